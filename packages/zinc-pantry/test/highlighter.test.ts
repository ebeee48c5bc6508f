import fc from 'fast-check'
import { all, createLowlight } from 'lowlight'
import { expect, test } from 'vitest'
import { createNodeHost } from 'zinc-pantry/engine'
import { HIGHLIGHTED_LANGUAGES } from '../dist/body/highlighted-languages.js'
import { loadHighlighter } from '../dist/body/highlighter.js'
import { runs } from './helpers.ts'

const whole = createLowlight(all)
const load = () => loadHighlighter(createNodeHost('.').colouring)

test('The table of languages is that of the package: names in order, other names, languages within', async () => {
  const names = Object.keys(all)
  const within = (mode: unknown, seen = new Set<unknown>()): string[] => {
    if (typeof mode !== 'object' || mode === null || seen.has(mode)) return []
    seen.add(mode)
    const { subLanguage } = mode as { readonly subLanguage?: string | readonly string[] }
    const own = Array.isArray(subLanguage) && subLanguage.length === 0 ? ['*'] : [subLanguage ?? []].flat()
    return [...own, ...Object.values(mode).flatMap((inner) => within(inner, seen))]
  }
  /** The languages as their own functions describe them. */
  const described = new Map<string, { readonly aliases?: readonly string[] }>()
  const noting = createLowlight()
  for (const name of names)
    noting.register(name, (core) => {
      const language = (all[name] as NonNullable<(typeof all)[string]>)(core)
      described.set(name, language)
      return language
    })
  const lines = HIGHLIGHTED_LANGUAGES.trim().split('\n')
  expect(lines.map((line) => line.split(' ')[0])).toEqual(names)
  for (const [at, name] of names.entries()) {
    const language = described.get(name)
    const inner = [...new Set(within(language))].filter((other) => other !== name)
    const [own, told] = (lines[at] as string).split(' > ')
    expect(own?.split(' ')).toEqual([name, ...(language?.aliases ?? [])])
    expect([name, told?.split(' ') ?? []]).toEqual([name, inner.includes('*') ? ['*'] : inner])
  }
})

const CODE = `<?php echo "<b>$x</b>"; ?> <style>a { color: red }</style> <script>const x = \`<p>\${1}</p>\`</script>
# Title *strong* \`code\` {{#each x}} {% if y %} <%= z %> --- key: value
function f(a) { return html\`<i>\${a}</i>\` } // comment
SELECT 'a' FROM b; $ ls -la | grep x
HTTP/1.1 200 OK
Content-Type: application/json

{ "a": [1, true, null] }
`

test('Code is coloured as it is where all languages are loaded, whatever was coloured before', async () => {
  await fc.assert(
    fc.asyncProperty(fc.shuffledSubarray(Object.keys(all), { minLength: 1, maxLength: 12 }), async (some) => {
      const highlighter = await load()
      for (const language of some) {
        const expected = whole.highlight(language, CODE, { prefix: 'code-' }).children
        expect([language, highlighter?.highlight(CODE, language, new Set())]).toEqual([language, expected])
      }
    }),
    { numRuns: runs(20, 500) },
  )
})

test('A language is known by any of its names, in any case; what is none is left as it is', async () => {
  const highlighter = await load()
  expect(highlighter?.languages).toEqual(whole.listLanguages())
  for (const line of HIGHLIGHTED_LANGUAGES.trim().split('\n'))
    for (const name of (line.split(' > ')[0] as string).split(' ')) {
      expect([name, highlighter?.knows(name)]).toEqual([name, true])
      const expected = whole.highlight(name, 'x = 1', { prefix: 'code-' }).children
      expect([name, highlighter?.highlight('x = 1', name.toUpperCase(), new Set())]).toEqual([name, expected])
    }
  for (const name of ['', 'no-such', '../core', 'toString', '__proto__'])
    expect([name, highlighter?.knows(name), highlighter?.highlight('x', name, new Set())]).toEqual([
      name,
      false,
      undefined,
    ])
})
