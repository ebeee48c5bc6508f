import { mkdirSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { createMemoryHost, createNodeHost, type Host, HostError } from 'zinc-pantry/engine'
import { makeFolder } from './helpers.ts'

const filesOf = (root: string): string[] =>
  readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((path) => statSync(join(root, path)).isFile())

describe('Files written while other work goes on', () => {
  const path = fc.constantFrom('a.js', 'b.js', 'deep/er/a.js', 'deep/b.js', 'shut/a.js', 'shut')
  const text = fc.oneof(
    fc.constantFrom('', 'x', '🏔 ås\n'),
    fc.nat(3).map((size) => 'long '.repeat(size * 100_000)),
  )
  const writes = fc.array(fc.tuple(path, text), { maxLength: 30 })

  test('are whole when they are settled, and leave nothing where they cannot be', async () => {
    await fc.assert(
      fc.asyncProperty(writes, fc.boolean(), async (all, isPatient) => {
        const root = makeFolder({})
        // What is a folder cannot be a file.
        mkdirSync(join(root, 'shut/in'), { recursive: true })
        const writing = createNodeHost(root).startWriting()
        const expected = new Map<string, string>()
        for (const [file, content] of all) {
          // A file that is still being written is not written again.
          if (expected.has(file)) await writing.settled().catch(() => undefined)
          expect(writing.write(file, content)).toBe(Buffer.byteLength(content))
          expected.set(file, content)
          if (isPatient) await writing.drain()
        }
        const isRefused = expected.delete('shut')
        if (isRefused && all.at(-1)?.[0] === 'shut') await expect(writing.settled()).rejects.toThrow(HostError)
        else await writing.settled().catch((error) => expect(error).toBeInstanceOf(HostError))
        expect(filesOf(root).sort()).toEqual([...expected.keys()].sort())
        for (const [file, content] of expected) expect(readFileSync(join(root, file), 'utf8')).toBe(content)
        // A failure is told once.
        await writing.settled()
      }),
      { numRuns: 60 },
    )
  })

  test('do not pile up', async () => {
    const root = makeFolder({})
    const host = createNodeHost(root)
    const writing = host.startWriting()
    const content = 'x'.repeat(2 ** 20)
    // Far more files and bytes than may wait, and never a turn.
    for (let at = 0; at < 300; at++) writing.write(`many/${at}.js`, at % 10 === 0 ? content : String(at))
    await writing.settled()
    expect(filesOf(root)).toHaveLength(300)
    expect(host.size('many/290.js')).toBe(content.length)
    expect(readFileSync(join(root, 'many/299.js'), 'utf8')).toBe('299')
  })
})

test('Two that write the same files at once do not disturb each other', async () => {
  const root = makeFolder({})
  const writings = Array.from({ length: 3 }, () => createNodeHost(root).startWriting())
  for (let at = 0; at < 50; at++) for (const writing of writings) writing.write(`a/${at}.js`, `text ${at}`.repeat(5000))
  await Promise.all(writings.map((writing) => writing.settled()))
  expect(filesOf(root)).toHaveLength(50)
  expect(readFileSync(join(root, 'a/49.js'), 'utf8')).toBe('text 49'.repeat(5000))
})

describe.each([
  ['on disk', () => createNodeHost(makeFolder({}))],
  ['in memory', () => createMemoryHost({})],
])('A host %s', (_where, open: () => Host) => {
  test('writes, reads, lists and removes', async () => {
    const host = open()
    host.write('content/b.yaml', 'b\n')
    host.write('content/a/ø.yaml', 'ø\n')
    host.write('content/b.yaml', 'other\n')
    expect(new TextDecoder().decode(host.read('content/b.yaml'))).toBe('other\n')
    expect([host.size('content/a/ø.yaml'), host.size('content/none')]).toEqual([3, undefined])
    expect(host.list('content')?.files).toEqual(['a/ø.yaml', 'b.yaml'])
    expect(host.list('elsewhere')).toBeUndefined()
    host.remove('content/b.yaml')
    host.remove('content/b.yaml')
    expect(() => host.read('content/b.yaml')).toThrow(HostError)
    expect(host.digest('a')).toMatch(/^[\da-f]{32}$/)
    expect(host.digest('a')).toBe(host.digest(new TextEncoder().encode('a')))
    expect(host.checksum(Buffer.from('a'), 'b')).not.toBe(host.checksum(Buffer.from('b'), 'a'))
  })
})
