import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { pantry, text } from 'zinc-pantry'
import { type Collection, type FoundWord, openCollection, type TextHandle } from 'zinc-pantry/query'
import { openFiles, runs } from './helpers.ts'

interface Note {
  readonly id: string
}
interface Fields {
  readonly title: TextHandle
}

interface Settings {
  readonly locales?: readonly string[]
  readonly synonyms?: readonly (readonly string[])[]
}

/** Opens notes with some titles and texts. */
async function open(
  notes: readonly (readonly [title: string, more?: string])[],
  settings: Settings = {},
): Promise<Collection<Note, Fields, string>> {
  const collections = {
    notes: {
      files: 'notes.json',
      search: { title: 3, more: 1 },
      fields: { title: text(), more: text({ default: '' }) },
    },
  }
  const content = notes.map(([title, more], at) => ({ id: String(at), title, ...(more ? { more } : {}) }))
  const { site, diagnostics } = await openFiles(
    { 'notes.json': JSON.stringify(content) },
    pantry({ severities: { 'label-near': 'off' }, ...settings, collections }),
  )
  expect(diagnostics).toEqual([])
  return openCollection(site, 'notes')
}

/** The titles of what a search finds, the nearest first. */
async function search(notes: Collection<Note, Fields, string>, words: string): Promise<string[]> {
  const hits = await notes.search(words).hits({ limit: 100 })
  return hits.map(({ entry }) => (entry as unknown as { readonly title: string }).title)
}

describe('Words of a language', () => {
  test.each([
    ['en', 'city', 'The cities'],
    ['en', 'runs ', 'Running water'],
    ['en', 'huts', 'A hut'],
    ['de', 'Hütte ', 'Alle Hütten'],
    ['de', 'hutten ', 'Eine Hütte'],
    ['nb', 'fjell ', 'Fjellene'],
    ['no', 'løype ', 'Løypene'],
    ['sv', 'stuga ', 'Stugorna'],
    ['da', 'hytte ', 'Hytterne'],
    ['nl', 'berg ', 'De bergen'],
    ['fr', 'montagne ', 'Les montagnes'],
    ['es', 'montaña ', 'Las montañas'],
    ['pt-BR', 'montanha ', 'Montanhas'],
    ['it', 'montagna ', 'Le montagne'],
    ['fi', 'talo ', 'Taloissa'],
    ['hu', 'ház ', 'Házakban'],
    ['ru', 'хижина ', 'Хижины'],
    ['tr', 'ev ', 'Evler'],
  ])('in %s, "%s" finds "%s", and what is exact comes first', async (locale, words, title) => {
    const exact = [words.trim(), ...title.split(' ').slice(1)].join(' ')
    const notes = await open([[title], [exact], ['Another']], { locales: [locale] })
    expect(await search(notes, words)).toEqual([exact, title])
  })

  test('English is what nothing else is said of; a language without stems is searched as it is', async () => {
    expect(await search(await open([['The cities']]), 'city')).toEqual(['The cities'])
    expect(await search(await open([['The huts'], ['hut']], { locales: ['ja'] }), 'hut ')).toEqual(['hut'])
  })

  test('In languages that build them, compounds are found by their parts, and rank below the words', async () => {
    const titles = ['Die Berghütten', 'Hütte am Berg', 'Hüttenwirtsfamilie', 'Wirt und Familie', 'Kalender', 'Der Tag']
    const notes = await open(
      titles.map((title) => [title]),
      { locales: ['de'] },
    )
    expect(await search(notes, 'hütte ')).toEqual(['Hütte am Berg', 'Hüttenwirtsfamilie', 'Die Berghütten'])
    expect(await search(notes, 'Familie ')).toEqual(['Wirt und Familie', 'Hüttenwirtsfamilie'])
    // A word that only ends like an article is none with it.
    expect(await search(notes, 'Kalen ')).toEqual(['Kalender'])
    const northern = await open([['Fjelltur'], ['En tur'], ['Et fjell'], ['Sur']], { locales: ['nb'] })
    expect(await search(northern, 'turer ')).toEqual(['En tur', 'Fjelltur'])
    const english = await open([['Footpath'], ['A path by foot']])
    expect(await search(english, 'path ')).toEqual(['A path by foot'])
  })

  test('Words that say little do not decide what is found, but by themselves they are words', async () => {
    const notes = await open([['The hut'], ['The tarn by the way'], ['Hut in the snow'], ['To be or not to be']])
    expect((await search(notes, 'the hut')).toSorted()).toEqual(['Hut in the snow', 'The hut'])
    expect((await search(notes, 'hut in the ')).toSorted()).toEqual(['Hut in the snow', 'The hut'])
    expect(await search(notes, 'to be or not to be')).toContain('To be or not to be')
    expect((await search(notes, 'the ')).length).toBe(3)
    expect(await search(notes, '"by the way"')).toEqual(['The tarn by the way'])
  })

  test('Signs without a word beside them ask for nothing', async () => {
    const notes = await open([['The hut – a guide'], ['Tarns']])
    for (const words of [
      'hut -- a guide',
      'hut - guide',
      '- hut',
      '+ hut',
      'hut "" guide',
      'hut -"" ',
      'hut: guide',
      'hut "',
      '--hut',
    ])
      expect([words, await search(notes, words)]).toEqual([words, ['The hut – a guide']])
    expect(await search(notes, '-hut tarns')).toEqual(['Tarns'])
    expect(await search(notes, '-hut')).toEqual(['Tarns'])
    for (const words of ['', '""', '"', '-', '+', '-""', '!'])
      expect([words, await search(notes, words)]).toEqual([words, []])
  })

  test('Synonyms that the site lists stand for each other, in one word or several, and rank below what was asked for', async () => {
    const synonyms = [
      ['hut', 'cabin', 'mountain shelter'],
      ['path', 'trail'],
    ]
    const titles = ['A cabin', 'Two huts', 'Mountain shelters', 'Shelter from rain', 'A mountain', 'Trails']
    const notes = await open(
      titles.map((title) => [title]),
      { synonyms },
    )
    expect(await search(notes, 'huts ')).toEqual(['Two huts', 'A cabin', 'Mountain shelters'])
    expect((await search(notes, 'mountain shelter')).slice(0, 1)).toEqual(['Mountain shelters'])
    expect((await search(notes, 'mountain shelter')).toSorted()).toEqual(
      ['A cabin', 'A mountain', 'Mountain shelters', 'Shelter from rain', 'Two huts'].toSorted(),
    )
    expect(await search(notes, 'paths')).toEqual(['Trails'])
    expect(await search(notes, '+cabins')).toEqual(['A cabin'])
  })

  test.each([
    ['C++', ['Modern C++17']],
    ['c#', ['C# and F#']],
    ["can't ", ["What you can't do"]],
    ['can’t ', ["What you can't do"]],
    ['1.2.3', ['Version 1.2.3']],
    ['v1.2', ['In v1.2', 'Version 1.2.3']],
    ['1.2 ', ['In v1.2']],
    ['src/query/words.ts', ['See src/query/words.ts', 'Words of a query']],
    ['src/query', ['See src/query/words.ts', 'Words of a query']],
    ["hut's ", ['Huts', 'The hut’s door']],
  ])('"%s" is a word', async (words, expected) => {
    const titles = ['Modern C++17', 'C# and F#', 'Vitamin C', "What you can't do", 'Can it', 'Version 1.2.3', 'In v1.2']
    const more = ['3.1.2', 'See src/query/words.ts', 'Words of a query', 'The hut’s door', 'Huts']
    const notes = await open([...titles, ...more].map((title) => [title]))
    const found = await search(notes, words)
    expect(found.slice(0, expected.length)).toEqual(expected)
    if (!words.includes('/')) expect(found).toEqual(expected)
  })

  test('A score is the sum of what its words say, each of which says how it was found', async () => {
    const vocabulary = ['hut', 'huts', 'cabin', 'cabins', 'tarn', 'tarnside', 'the', 'ridge', 'ridges', 'rigde', 'fog']
    const words = fc.array(fc.constantFrom(...vocabulary), { minLength: 1, maxLength: 6 })
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(words, words), { minLength: 1, maxLength: 8 }), words, async (all, asked) => {
        const notes = await open(
          all.map(([title, body]) => [title.join(' '), body.join(' ')]),
          { synonyms: [['hut', 'cabin']] },
        )
        for (const { score, words: found, matches } of await notes.search(asked.join(' ')).hits({ limit: 100 })) {
          const sum = found.reduce((total, one) => total + one.score, 0)
          expect(sum / score).toBeCloseTo(1, 3)
          expect(found.length).toBeGreaterThan(0)
          const shown = matches.flatMap(({ pieces }) => pieces.map((piece) => piece.text)).join(' ')
          for (const { word, asked: of, relation } of found as readonly FoundWord[]) {
            // What says little is not marked.
            if (word !== 'the') expect(shown).toContain(word)
            if (relation === 'same') expect(word).toBe(of)
            if (relation === 'stem') expect(word.replace(/s$/, '')).toBe(of.replace(/s$/, ''))
          }
        }
      }),
      { numRuns: runs(40, 1_000) },
    )
  })

  test('Families of thousands of words are read in parts', async () => {
    const letters = 'bdfgklmnprst'
    const stem = (at: number): string =>
      `${[at % 12, Math.floor(at / 12) % 12, Math.floor(at / 144) % 12].map((one) => `${letters[one]}o`).join('')}k`
    const titles = Array.from({ length: 1700 }, (_, at) => `${stem(at)} ${stem((at * 7) % 1700)}s`)
    const notes = await open(titles.map((title) => [title]))
    for (const at of [0, 5, 170, 899, 1699]) {
      const found = await search(notes, `${stem(at)} `)
      const expected = titles.filter((title) => title.split(' ').some((one) => one.replace(/s$/, '') === stem(at)))
      expect(found.toSorted()).toEqual(expected.toSorted())
    }
  })
})
