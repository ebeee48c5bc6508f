import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { file, list, pantry, ref, text } from 'zinc-pantry'
import {
  buildSite,
  checkSite,
  createMemoryHost,
  type Host,
  HostError,
  type MemoryHost,
  openSession,
  type SiteSession,
} from 'zinc-pantry/engine'
import { expectShare, runs } from './helpers.ts'

const configuration = pantry({
  collections: {
    huts: { files: 'huts/*.yaml', fields: { name: text(), sheet: file({ optional: true }) } },
    trails: {
      files: 'trails/*.md',
      body: true,
      search: { body: 1 },
      fields: { title: text(), huts: list(ref('huts'), { default: [] }) },
    },
  },
})
const CONTENT = {
  'content/huts/gable.yaml': 'name: Gable\nsheet: /plan.txt\n',
  'content/huts/ford.yaml': 'name: Ford\n',
  'content/trails/one.md': '---\ntitle: One\nhuts: [gable, ford]\n---\n# Head\n',
  'content/plan.txt': 'plan',
}
const options = { configurationFile: 'pantry.config.ts' }
const outputOf = ({ files }: MemoryHost): Map<string, unknown> =>
  new Map([...files].filter(([path]) => path.startsWith('generated/')).sort(([a], [b]) => (a < b ? -1 : 1)))

/** Ways in which a machine fails, at the n-th of the operations that it concerns. */
const faults = ['full', 'read-only', 'vanished', 'unreadable', 'interrupted'] as const
type Fault = (typeof faults)[number]

/** A host that fails at one operation, or from it on, until it is mended. */
function breakHost(host: MemoryHost, fault: Fault, { at, lasts }: { readonly at: number; readonly lasts: boolean }) {
  let count = 0
  let isMended = false
  const fails = (): boolean => {
    if (isMended) return false
    count++
    return count === at || (count > at && (lasts || fault === 'interrupted'))
  }
  const refuse = (): never => {
    throw new HostError(
      {
        full: 'the disk is full',
        'read-only': 'the disk is read-only',
        vanished: 'it does not exist',
        unreadable: 'access is not permitted',
        interrupted: '',
      }[fault],
    )
  }
  const isWriting = fault === 'full' || fault === 'read-only'
  const reading = <Result>(read: () => Result): Result =>
    !isWriting && fault !== 'interrupted' && fails() ? refuse() : read()
  /** Of a process that was killed nothing more reaches the disk. */
  const writing = <Result>(write: () => Result, nothing: Result): Result => {
    if (!isWriting && fault !== 'interrupted') return write()
    if (!fails()) return write()
    return fault === 'interrupted' ? nothing : refuse()
  }
  const broken: Partial<Host> = {
    read: (path, most) => reading(() => host.read(path, most)),
    list(path) {
      // A folder that is gone for a moment.
      if (fault === 'vanished' && fails()) return undefined
      return host.list(path)
    },
    write: (path, content) => writing(() => host.write(path, content), undefined),
    remove: (path) => writing(() => host.remove(path), undefined),
    startWriting: () => {
      const own = host.startWriting()
      return { ...own, write: (path, content) => writing(() => own.write(path, content), content.length) }
    },
  }
  const mend = (): void => {
    isMended = true
  }
  return { host: { ...host, ...broken } as Host, mend }
}

const fault = fc.record({
  fault: fc.constantFrom(...faults),
  at: fc.integer({ min: 1, max: 40 }),
  lasts: fc.boolean(),
  isWarm: fc.boolean(),
  edit: fc.boolean(),
  isSession: fc.boolean(),
})

describe('Whatever goes wrong once is right the next time', () => {
  test('a run after a fault of the machine gives what it would have given without it', async () => {
    let tried = 0
    let met = 0
    await fc.assert(
      fc.asyncProperty(fault, async ({ fault: kind, at, lasts, isWarm, edit, isSession }) => {
        const host = createMemoryHost(CONTENT, configuration)
        const broken = breakHost(host, kind, { at, lasts })
        if (isWarm) await buildSite({ ...options, host })
        if (edit) host.files.set('content/huts/ford.yaml', 'name: Beck\n')
        let session: SiteSession | undefined
        const build = async (own: Host) => {
          if (isSession) session ??= openSession({ ...options, host: own })
          return session ? (await session.build(undefined))?.report : await buildSite({ ...options, host: own })
        }
        const first = await build(broken.host)
        tried++
        if (first?.diagnostics.length || kind === 'interrupted') met++
        if (!isSession) await checkSite({ ...options, host: broken.host })
        if (kind === 'interrupted') session = undefined
        broken.mend()
        const second = await build(broken.host)
        expect(second?.diagnostics ?? []).toEqual([])
        const { diagnostics } = await checkSite({ ...options, host })
        expect(diagnostics).toEqual([])
        const clean = createMemoryHost(
          { ...CONTENT, ...(edit ? { 'content/huts/ford.yaml': 'name: Beck\n' } : {}) },
          configuration,
        )
        await buildSite({ ...options, host: clean, cache: false })
        const output = outputOf(host)
        for (const [path, content] of outputOf(clean)) expect([path, output.get(path)]).toEqual([path, content])
      }),
      { numRuns: runs(200, 20_000) },
    )
    expectShare(met, tried, 1 / 5)
  })

  test.each(faults)('%s is met by the first build', async (kind) => {
    const host = createMemoryHost(CONTENT, configuration)
    const { diagnostics } = await buildSite({ ...options, host: breakHost(host, kind, { at: 1, lasts: true }).host })
    expect([diagnostics.length > 0, outputOf(host).has('generated/pantry/index.js')]).toEqual([
      kind !== 'interrupted',
      false,
    ])
  })

  test('a part of the output that was changed is written again, with what is kept and without', async () => {
    for (const cache of [true, false]) {
      const host = createMemoryHost(CONTENT, configuration)
      await buildSite({ ...options, host, cache })
      const right = outputOf(host)
      for (const [path, content] of right) {
        host.files.set(path, String(content).replace(/.$/s, '!'))
        await buildSite({ ...options, host, cache })
        expect([path, host.files.get(path)]).toEqual([path, content])
      }
    }
  })

  test('a session names the files that are others, not those that a system tells of once more', async () => {
    const host = createMemoryHost(CONTENT, configuration)
    const session = openSession({ ...options, host })
    await session.build(undefined)
    const [ford, gable] = ['content/huts/ford.yaml', 'content/huts/gable.yaml']
    host.files.set(ford, 'name: Beck\n')
    expect((await session.build([ford]))?.changes).toEqual([ford])
    host.files.set(gable, 'name: Crag\n')
    expect((await session.build([ford, gable]))?.changes).toEqual([gable])
    expect(await session.build([ford, gable])).toBeUndefined()
  })

  test('files that no build wrote are not replaced', async () => {
    for (const name of ['manifest.json', 'index.js', 'index.d.ts']) {
      const own = `generated/pantry/${name}`
      const host = createMemoryHost(
        { ...CONTENT, [own]: '{ "name": "My site" }', 'generated/pantry/x.12.tmp': 'mine' },
        configuration,
      )
      const { diagnostics, output } = await buildSite({ ...options, host })
      expect([diagnostics.map(({ code, file: at }) => [code, at]), output]).toEqual([
        [['output-foreign', own]],
        undefined,
      ])
      expect(outputOf(host).size).toBe(2)
      host.files.delete(own)
      expect((await buildSite({ ...options, host })).output).toBe('generated/pantry')
      expect(host.files.get('generated/pantry/x.12.tmp')).toBe('mine')
    }
    for (const output of ['.git', 'node_modules/pantry', '.pantry/cache', 'a/.git/b', 'content', 'content/x']) {
      const host = createMemoryHost(CONTENT, pantry({ output, collections: {} }))
      const { diagnostics } = await buildSite({ ...options, host })
      expect([output, diagnostics.map(({ code }) => code)]).toEqual([output, ['config-setting-invalid']])
    }
  })
})
