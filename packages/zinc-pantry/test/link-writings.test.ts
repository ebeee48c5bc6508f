import fc from 'fast-check'
import { expect, test } from 'vitest'
import { pantry } from 'zinc-pantry'
import { changeSite, checkSite, createMemoryHost } from 'zinc-pantry/engine'
import { runs, textOf } from './helpers.ts'

const configurationFile = 'pantry.config.ts'

const site = pantry({
  severities: { 'link-without-page': 'off', 'file-name-unportable': 'off' },
  collections: { texts: { files: '*.{md,mdx}', body: true, fields: {} } },
})

/** How many links of a text lead nowhere when nothing else is there. */
async function countLinks(file: string, text: string): Promise<number> {
  const host = createMemoryHost({ [file]: text }, site)
  return (await checkSite({ host, configurationFile, cache: false })).diagnostics.length
}

/** Names of entries as files have them, some with signs that an address has to write in another way. */
const NAMES = [
  'gable',
  'my page',
  'a(b)',
  'a(b',
  'a_b',
  'a&b',
  'a&lt;b',
  'ås',
  'a#b',
  'a%41b',
  "it's",
  'a[b]',
  'a~*b*',
  'a=b',
]

const encode = (name: string): string =>
  encodeURIComponent(name).replace(/[()']/g, (sign) => `%${sign.charCodeAt(0).toString(16)}`)
const withReferences = (name: string): string => name.replace(/[^a-z]/gu, (sign) => `&#${sign.codePointAt(0)};`)
const withEscapes = (name: string): string => name.replace(/[!-/:-@[-`{-~]/g, (sign) => `\\${sign}`)

/** Ways of writing a link to a file. A fragment is no part of its name. */
const WRITINGS: readonly ((name: string) => string)[] = [
  (name) => `[a](${encode(name)}.md)`,
  (name) => `[a](${encode(name)}.md#here "it")`,
  (name) => `[a](<${encode(name)}.md>)`,
  (name) => `[a](${withEscapes(encode(name))}.md)`,
  (name) => `[a](${withReferences(encode(name))}.md)`,
  (name) => `[a](./${encode(name)}.md&num;here)`,
  (name) => `[r1]\n\n[r1]: ${encode(name)}.md`,
  (name) => `[a][r2]\n\n[r2]:\n  <${encode(name)}.md#here>\n  'it'`,
  (name) => `> [a][r3]\n>\n> [r3]:\n> ${withReferences(encode(name))}.md`,
  (name) => `[a](texts/${encode(name)})`,
  (name) => `<a href="${withReferences(encode(name))}.md">a</a>`,
  (name) => `> text <a HREF\n> = '${encode(name)}.md#here'>a</a>`,
  (name) => `<a href=${encode(name)}.md>a</a> <img alt=a src=${encode(name)}.md>`,
  (name) => `- [a](\n  ${encode(name)}.md)`,
  (name) => `[a](<${withEscapes(name.replaceAll('%', '%25').replaceAll('#', '%23'))}.md>)`,
]

test('Links follow an entry that gets another name, however they are written and whatever the names have in them', async () => {
  const name = fc.constantFrom(...NAMES)
  const ways = fc.uniqueArray(fc.constantFrom(...WRITINGS), { minLength: 1, maxLength: 6 })
  const all = fc.tuple(name, name, ways, fc.constantFrom('md', 'mdx'))
  let changed = 0
  await fc.assert(
    fc.asyncProperty(all, async ([before, after, written, ending]) => {
      const file = `content/notes.${ending}`
      const links = written
        .map((write) => write(before))
        // Elements have attributes with quotes there, names in lower case, and no line begins with one that has no name.
        .filter((link) => ending === 'md' || !/HREF|=[^"'&]*>|\n {2}</.test(link))
        .join('\n\n')
      if (before === after || links === '') return
      const notes = `---\n{}\n---\n${links}\n\n[own](#end)\n\n## End\n`
      const target = { [`content/${before}.md`]: '---\n{}\n---\n## Here\n' }
      const host = createMemoryHost({ ...target, [file]: notes }, site)
      const options = { host, configurationFile, cache: false }
      expect(textOf(await checkSite(options))).toBe('')
      const answer = await changeSite(options, { kind: 'rename', target: `texts/${before}`, name: after })
      if (!('change' in answer)) throw new Error(answer.refused)
      expect([textOf(answer.problems), answer.isWritten]).toEqual(['', true])
      expect(textOf(await checkSite(options))).toBe('')
      const now = new TextDecoder().decode(host.read(file))
      // What is no link any more is no problem, and a loss.
      expect(await countLinks(file, now)).toBe(await countLinks(file, notes))
      // What stands elsewhere stays as it was.
      expect(now).toContain('\n\n[own](#end)\n\n## End\n')
      changed++
    }),
    { numRuns: runs(80, 3000) },
  )
  expect(changed).toBeGreaterThan(5)
})
