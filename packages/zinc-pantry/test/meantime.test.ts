import { describe, expect, test } from 'vitest'
import { list, pantry, ref, text } from 'zinc-pantry'
import { type ChangeRequest, changeSite, createMemoryHost, fixSite, type Host } from 'zinc-pantry/engine'

const configurationFile = 'pantry.config.ts'
const configuration = pantry({
  collections: {
    huts: { files: 'huts/*.md', fields: { name: text(), near: list(ref('huts'), { default: [] }) } },
  },
})
const GABLE = '---\n# first\nnaem: Gable\nnear: [ledge]\n---\n'
const FILES = {
  'content/huts/gable.md': GABLE.replace('naem', 'name'),
  'content/huts/ledge.md': '---\nname: Ledge\nnear: [gable]\n---\n',
  'content/huts/tarn.md': '---\nname: Tarn\nnear: [gable, ledge]\n---\n',
}

interface Interruption {
  readonly file: string
  readonly content: string
  /** In front of which access to the content it is, from 0. */
  readonly moment: number
}

/** Works on a site while somebody else writes one of its files. */
async function interrupt(
  work: (host: Host) => Promise<unknown>,
  { file, content, moment }: Interruption,
  files: Readonly<Record<string, string>> = FILES,
) {
  const plain = createMemoryHost(files, configuration)
  const known = plain.files.has(file) ? file : 'content'
  let [accesses, isRead, isLate] = [0, false, false]
  const access = (path: string): void => {
    if (!/^content(?:\/|$)/.test(path)) return
    if (accesses++ === moment) {
      isLate = isRead
      plain.files.set(file, content)
    }
    isRead ||= path === known
  }
  await work({
    ...plain,
    list(folder, dotNames) {
      access(folder)
      return plain.list(folder, dotNames)
    },
    read(path, maxBytes) {
      access(path)
      return plain.read(path, maxBytes)
    },
  })
  const now = plain.files.get(file)
  return {
    now: now instanceof Uint8Array ? new TextDecoder().decode(now) : now,
    /** It came after the work had seen how the file was. */
    isLate,
    isOver: accesses <= moment,
  }
}

describe('What somebody else writes stays, whenever it is written', () => {
  const other = FILES['content/huts/gable.md'].replace('# first', '# by somebody else')
  const changes: readonly (readonly [ChangeRequest, file: string, content: string])[] = [
    [{ kind: 'set', collection: 'huts', assignments: [{ path: ['name'], kind: 'set', text: 'A' }] }, 'gable', other],
    [{ kind: 'rename', target: 'huts/gable', name: 'crag' }, 'gable', other],
    [{ kind: 'rename', target: 'huts/gable', name: 'crag' }, 'crag', 'New.\n'],
    [{ kind: 'rename', target: 'huts/ledge', name: 'crag' }, 'gable', other],
    [{ kind: 'remove', target: 'huts/gable' }, 'gable', other],
  ]

  test.each(changes)('while a site is changed: %j, %s', async (request, name, content) => {
    const file = `content/huts/${name}.md`
    const change = (host: Host) => changeSite({ host, configurationFile, anyway: true }, request)
    let late = 0
    for (let moment = 0; ; moment++) {
      const { now, isLate, isOver } = await interrupt(change, { file, content, moment })
      if (isOver) break
      if (isLate) expect([moment, now]).toEqual([moment, content])
      late += isLate ? 1 : 0
    }
    expect(late).toBeGreaterThan(5)
  })

  test.each([true, false])('while problems are mended, with what is kept: %j', async (cache) => {
    const file = 'content/huts/gable.md'
    const content = GABLE.replace('# first', '# by somebody else')
    const fix = (host: Host) => fixSite({ host, configurationFile, cache })
    let late = 0
    for (let moment = 0; ; moment++) {
      const files = { ...FILES, [file]: GABLE }
      const { now, isLate, isOver } = await interrupt(fix, { file, content, moment }, files)
      if (isOver) break
      expect([content, content.replace('naem', 'name')]).toContain(now)
      late += isLate ? 1 : 0
    }
    expect(late).toBeGreaterThan(5)
  })
})
