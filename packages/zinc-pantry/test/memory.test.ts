import { execFileSync } from 'node:child_process'
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { expect, test } from 'vitest'
import { list, pantry, ref, text } from 'zinc-pantry'
import { createMemoryHost, openSession } from 'zinc-pantry/engine'
import { makeFolder } from './helpers.ts'

const FILES = 80
const noteOf = (at: number, words: string): string =>
  `---\ntitle: Note ${at}\nnear: [n${(at * 7) % FILES}]\n---\nTo [another](n${(at * 3) % FILES}.md). ${words}\n`
const rowsOf = (edited: number, words: string): string =>
  JSON.stringify(Array.from({ length: 200 }, (_, at) => ({ id: `r${at}`, title: at === edited ? words : `Row ${at}` })))

test('A session holds no run but the last: after hundreds of edits it takes the memory that it took after some', async () => {
  setFlagsFromString('--expose-gc')
  const collect = runInNewContext('gc') as () => void
  const configuration = pantry({
    collections: {
      notes: {
        files: 'notes/*.md',
        body: true,
        address: '/{slug}/',
        backlinks: true,
        fields: { title: text(), near: list(ref('notes')) },
      },
      rows: { files: 'rows.json', fields: { title: text() } },
    },
  })
  const notes = Array.from({ length: FILES }, (_, at) => [`content/notes/n${at}.md`, noteOf(at, 'Wind.')])
  const host = createMemoryHost({ ...Object.fromEntries(notes), 'content/rows.json': rowsOf(0, 'Row') }, configuration)
  const session = openSession({ host, configurationFile: 'pantry.config.ts', cache: false })
  await session.build(undefined)
  const edit = async (number: number): Promise<void> => {
    const isNote = number % 4 !== 0
    const at = (number * 37) % FILES
    const path = isNote ? `content/notes/n${at}.md` : 'content/rows.json'
    host.files.set(path, isNote ? noteOf(at, `Snow ${number}.`) : rowsOf(number % 200, `Edited ${number}`))
    expect((await session.build([path]))?.report.output).toBe('generated/pantry')
  }
  /** The used heap in MB, what nobody holds taken away. */
  const used = (): number => {
    collect()
    return process.memoryUsage().heapUsed / 2 ** 20
  }
  const heaps: number[] = []
  for (let number = 1; number <= 600; number++) {
    await edit(number)
    if (number % 200 === 0) heaps.push(used())
  }
  const [first = 0, , last = 0] = heaps
  // A run has a hundredth of a megabyte of lists of its own, and more with what they hold.
  expect(last - first).toBeLessThan(3)
})

test('After so many bytes a process lets its heap grow by less', () => {
  const root = makeFolder({ 'a.txt': 'x'.repeat(1000), 'long.txt': 'x'.repeat(1_000_000) })
  // Much that lives, and ten times as much that lives for a while.
  const work = `
    const living = Array.from({ length: 300_000 }, (_, at) => ({ at, other: at + 1 }))
    const lately = []
    let most = 0
    for (let at = 0; at < 3_000_000; at++) {
      lately[at % 100_000] = { at, next: [at] }
      if (at % 10_000 === 0) most = Math.max(most, process.memoryUsage().heapUsed)
    }
    console.log(living.length > 0 ? most : 0)`
  const mostUsed = (options: object, { file, times } = { file: 'a.txt', times: 2 }): number => {
    const script = `
      import { createNodeHost } from '${import.meta.resolve('zinc-pantry/engine')}'
      const host = createNodeHost(${JSON.stringify(root)}, ${JSON.stringify(options)})
      for (let read = 0; read < ${times}; read++) host.read('${file}')
      ${work}`
    return Number(execFileSync(process.execPath, ['--input-type=module', '-e', script], { encoding: 'utf8' }))
  }
  const usual = mostUsed({})
  expect(mostUsed({ thriftyAfterBytes: 1500 })).toBeLessThan(usual * 0.75)
  expect(mostUsed({ thriftyAfterBytes: 5000 })).toBeGreaterThan(usual * 0.85)
  // Much was read, and little of it is held.
  const long = { file: 'long.txt', times: 60 }
  const limited = mostUsed({ thriftyAfterBytes: 1500 }, long)
  expect(mostUsed({ thriftyAfterBytes: 5e7 }, long)).toBeGreaterThan(limited * 1.05)
})
