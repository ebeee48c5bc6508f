import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { list, markdown, pantry, ref, text } from 'zinc-pantry'
import { type ChoiceHandle, type Collection, openCollection, type TextHandle } from 'zinc-pantry/query'
import { findNearWords } from '../dist/query/near-words.js'
import { findWords } from '../dist/query/words.js'
import { createRandom, openFiles, runs } from './helpers.ts'

interface Note {
  readonly id: string
  readonly title: string
}
interface Fields {
  readonly title: TextHandle
  readonly kind: ChoiceHandle<'a' | 'b'>
}

const site = pantry({
  // Titles are near to each other by chance.
  severities: { 'label-near': 'off' },
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), secret: text({ private: true, optional: true }) } },
    notes: {
      files: 'notes/*.{md,mdx}',
      body: true,
      search: { title: 3, 'huts.name': 1, 'more.text': 1, body: 1 },
      fields: {
        title: text(),
        kind: text({ default: 'a' }),
        huts: list(ref('huts'), { default: [] }),
        more: markdown({ optional: true }),
      },
    },
  },
})

const many = pantry({
  collections: { notes: { files: 'notes.json', search: { title: 1 }, fields: { title: text() } } },
})

async function open(notes: Readonly<Record<string, string>>, huts: readonly object[] = []) {
  const files = Object.entries(notes).map(([name, content]) => [`notes/${name}`, content])
  const report = await openFiles({ ...Object.fromEntries(files), 'huts.json': JSON.stringify(huts) }, site)
  expect(report.diagnostics).toEqual([])
  return openCollection(report.site, 'notes') as Collection<Note, Fields, string>
}

const note = (title: string, body = '', fields = '') => `---\ntitle: ${JSON.stringify(title)}\n${fields}---\n${body}\n`
const idsOf = async (query: { toArray(): Promise<readonly Note[]> }) => (await query.toArray()).map(({ id }) => id)

/** True for words of which one is the plural of the other; no others here have a stem in common. */
const areFamily = (one: string, other: string): boolean => one.replace(/s$/, '') === other.replace(/s$/, '')

describe('Search', () => {
  test('looks into fields, bodies and what is referred to; weights say what comes first', async () => {
    const notes = await open(
      {
        'a.md': note('Bog and fog', 'A *ridge*, then `code` and\n\n| a table |\n| --- |\n| with snow |\n'),
        'b.md': note('Elsewhere', 'Only bog.', 'huts: [gable]\n'),
        'c.mdx': note(
          'Tents',
          '<b>Pitch</b> them on the **ridge** {1 + 1}',
          'more: "Or a *bivouac*"\nkind: b\nhuts: [gable]\n',
        ),
      },
      [{ id: 'gable', name: 'Gable Hut', secret: 'whisper' }],
    )
    expect(await idsOf(notes.search('bog'))).toEqual(['a', 'b'])
    expect(await idsOf(notes.search('snow'))).toEqual(['a'])
    expect(await idsOf(notes.search('gable'))).toEqual(['b', 'c'])
    expect(await idsOf(notes.search('bivouac'))).toEqual(['c'])
    expect(await idsOf(notes.search('whisper'))).toEqual([])
    expect((await idsOf(notes.search('ridge'))).toSorted()).toEqual(['a', 'c'])
    expect(await idsOf(notes.search('ridge').where((one) => one.kind.is('b')))).toEqual(['c'])
    expect(await idsOf(notes.search('bog ridge').limit(1))).toEqual(['a'])
    expect(await idsOf(notes.search('bog').sort((one) => one.title.descending()))).toEqual(['b', 'a'])
    expect(await notes.search('ridge').count()).toBe(2)
    const { kind } = await notes.search('ridge').facets((one) => ({ kind: one.kind }))
    expect(kind).toEqual([
      { value: 'a', count: 1 },
      { value: 'b', count: 1 },
    ])
    expect((await notes.search('bog').plan()).steps.map(({ index, rows }) => [index, rows])).toEqual([
      ['notes.search', 2],
    ])
    const related = (query: Pick<typeof notes, 'related'>) =>
      query.related('b').then((all) => all.map(({ entry }) => entry.id))
    expect([await related(notes), await related(notes.search('ridge')), await related(notes.search('snow'))]).toEqual([
      ['c'],
      ['c'],
      [],
    ])
    const page = await notes.search('bog').page({ size: 1 })
    expect(await notes.search('bog').page({ size: 1, after: page.next ?? '' })).toMatchObject({
      entries: [{ id: 'b' }],
      next: null,
    })
  })

  test('finds a word in more entries than a call can have arguments', async () => {
    const count = 130_000
    const notes = Array.from({ length: count }, (_, at) => ({ id: `n${at}`, title: 'Hut' }))
    const { site: opened } = await openFiles({ 'notes.json': JSON.stringify(notes) }, many)
    expect(await openCollection(opened, 'notes').search('hut').count()).toBe(count)
  })

  test('forgives one mistake in a word from four letters on, and two from eight on', async () => {
    const words = ['tor', 'tarn', 'ridgeway', 'footbridge']
    const notes = await open(Object.fromEntries(words.map((word) => [`${word}.md`, note(word)])))
    const found = async (word: string) => (await notes.search(word).toArray()).map(({ id }) => id)
    for (const word of words)
      for (const edits of [0, 1, 2, 3]) {
        // Wrong letters from the middle on, so that no beginning or ending is right.
        const wrong = Array.from(word, (letter, at) => (at > 0 && at <= edits ? 'q' : letter)).join('')
        const allowed = word.length < 4 ? 0 : word.length < 8 ? 1 : 2
        expect([wrong, await found(wrong)]).toEqual([wrong, edits <= allowed ? [word] : []])
      }
  })

  test('forgives case, marks, endings and mistakes, in several languages and scripts', async () => {
    const notes = await open({
      'en.md': note('The Windgate winter room'),
      'de.md': note('Die Straße über den Grat'),
      'no.md': note('Blåbærstien på Sørfjellet'),
      'ja.md': note('山の小屋に泊まる'),
      'mix.md': note('React入門とVue3の違い'),
      'ar.md': note('الكتاب في المكتبة'),
      'hi.md': note('हिन्दी में लिखना'),
      'fr.md': note('Le cafe\u0301s ferme\u0301'),
    })
    const found: Record<string, string[]> = {}
    for (const words of [
      'WINDGATE',
      'wint',
      'windgaet',
      'STRASSE',
      'uber',
      'blabaerstien',
      'Sorfjelet',
      '小屋',
      'まる',
      'react',
      '入門',
      'vue3',
      'كتاب',
      'والكتاب',
      'مكتبه',
      'हिन्दी',
      'cafés',
      '山',
      'qqqqqq',
      '',
      '!',
    ])
      found[words] = await idsOf(notes.search(words))
    expect(found).toEqual({
      WINDGATE: ['en'],
      wint: ['en'],
      windgaet: ['en'],
      STRASSE: ['de'],
      uber: ['de'],
      blabaerstien: ['no'],
      Sorfjelet: ['no'],
      小屋: ['ja'],
      まる: ['ja'],
      react: ['mix'],
      入門: ['mix'],
      vue3: ['mix'],
      كتاب: ['ar'],
      والكتاب: ['ar'],
      مكتبه: ['ar'],
      हिन्दी: ['hi'],
      cafés: ['fr'],
      山: ['ja'],
      qqqqqq: [],
      '': [],
      '!': [],
    })
  })

  test('finds nothing where there is nothing', async () => {
    const notes = await open({ 'a.md': note('!') })
    expect(await idsOf(notes.search('bog'))).toEqual([])
    expect(await notes.search('bog').hits()).toEqual([])
    expect(await notes.search('bog').facets((one) => ({ kind: one.kind }))).toEqual({ kind: [] })
  })

  test('marks the words in pieces of text', async () => {
    const long = `${'Stones and more stones. '.repeat(20)}Then a *tarn*, a second tarn, and a hut.${' Grass.'.repeat(60)}`
    const notes = await open({ 'a.md': note('The tarns', long) })
    const [hit] = await notes.search('tarn').hits({ length: 60 })
    expect(hit?.entry.id).toBe('a')
    const shown = hit?.matches.map(({ path, pieces }) => [
      path,
      pieces.map((piece) => (piece.isMatch ? `[${piece.text}]` : piece.text)).join(''),
    ])
    expect(shown).toEqual([
      ['title', 'The [tarns]'],
      ['body', '… stones. Then a [tarn], a second [tarn], and a hut. Grass. Grass. …'],
    ])
    await expect(notes.hits()).rejects.toThrow('Hits are those of a search')
  })

  test('As-you-type search over many words finds what a filter finds, and reads little for a key stroke', async () => {
    // As many different words as make the index of many parts, and the lists of words too.
    const random = createRandom()
    const syllables = ['bar', 'ba', 'fen', 'kir', 'lo', 'mo', 'ras', 'so', 'tar', 'ven', 'wyn', 'ya']
    const word = () => Array.from({ length: 1 + random(5) }, () => syllables[random(12)]).join('')
    const titles = Array.from({ length: 3000 }, () => Array.from({ length: 1 + random(14) }, word).join(' '))
    const content = titles.map((title, at) => ({ id: `n${at}`, title }))
    const opened = await openFiles({ 'notes.json': JSON.stringify(content) }, many)
    const notes = openCollection(opened.site, 'notes') as Collection<Note, Fields, string>
    const words = titles.map((title) => title.split(' '))
    const all = new Set(words.flat())
    expect(all.size).toBeGreaterThan(8200)
    for (const asked of ['b', 'ba', 'bar', 'barb', 'f', 'kirk', 'y', 'wynya', 'so', 'v tar', 'ras lomo b']) {
      const parts = asked.split(' ')
      const expected = words.filter((own) =>
        parts.some((part, at) =>
          own.some((one) => (at === parts.length - 1 || !all.has(part) ? one.startsWith(part) : one === part)),
        ),
      )
      const { bytes } = await notes.search(asked).limit(0).plan()
      expect([asked, await notes.search(asked).count()]).toEqual([asked, expected.length])
      expect([asked, bytes < 100_000]).toEqual([asked, true])
      expect(await notes.search(asked).limit(3000).toArray()).toHaveLength(expected.length)
      const [hit] = await notes.search(asked).hits({ limit: 1 })
      const marked = hit?.matches[0]?.pieces.filter(({ isMatch }) => isMatch) ?? []
      expect(marked.every(({ text: one }) => parts.some((part) => one.startsWith(part)))).toBe(true)
    }
    // A mistake is forgiven in what begins or ends right.
    for (const one of [...all].filter(({ length }) => length > 9).slice(0, 40)) {
      const place = 1 + random(one.length - 2)
      const wrong = one.slice(0, place) + (one[place] === 'x' ? 'z' : 'x') + one.slice(place + 1)
      const ids = await idsOf(notes.search(wrong).limit(3000))
      const expected = words.flatMap((own, at) => (own.includes(one) ? [`n${at}`] : []))
      expect([wrong, expected.filter((id) => !ids.includes(id))]).toEqual([wrong, []])
    }
  })

  test('finds what a filter over the words finds', async () => {
    const vocabulary = ['fell', 'fells', 'tarn', 'tarnside', 'bog', 'hut', 'huts', 'ridge']
    const texts = fc.array(fc.constantFrom(...vocabulary), { maxLength: 6 })
    await fc.assert(
      fc.asyncProperty(
        fc.array(texts, { minLength: 1, maxLength: 8 }),
        fc.constantFrom(...vocabulary),
        async (all, word) => {
          const notes = await open(
            Object.fromEntries(all.map((words, at) => [`${at}.md`, note(`N${at}`, words.join(' '))])),
          )
          const expected = all.flatMap((words, at) =>
            words.some((one) => one.startsWith(word) || areFamily(one, word)) ? [String(at)] : [],
          )
          const found = await idsOf(notes.search(word))
          // Without such a word there may be others that are near.
          if (expected.length > 0) expect(found.toSorted()).toEqual(expected.toSorted())
        },
      ),
      { numRuns: 40 },
    )
  })

  test('completes what is typed with counts, and says what was meant', async () => {
    const notes = await open({
      'a.md': note('Stone and stile', 'stony'),
      'b.md': note('Stone', 'Sørfjell', 'kind: b\n'),
      'c.md': note('Tarn', 'stonecrop'),
    })
    expect(await notes.completions('the sto')).toEqual([
      { text: 'the stone', word: 'stone', count: 2 },
      { text: 'the stonecrop', word: 'stonecrop', count: 1 },
      { text: 'the stony', word: 'stony', count: 1 },
    ])
    expect((await notes.where((one) => one.kind.is('b')).completions('s')).map(({ word }) => word)).toEqual([
      'sorfjell',
      'stone',
    ])
    expect(await notes.completions('sto', { limit: 1 })).toHaveLength(1)
    expect([await notes.completions(''), await notes.completions('stone ')]).toEqual([[], []])
    expect(await notes.correction('Stnoe by the tran')).toBe('stone by the tarn')
    expect(await notes.correction('stone sor')).toBe(undefined)
  })

  test('with words in quotes, that must be there, that must not, and at a place, finds what a look at each text finds', async () => {
    const vocabulary = ['fell', 'fells', 'tarn', 'tarnside', 'bog', 'hut']
    const text = fc.array(fc.constantFrom(...vocabulary), { maxLength: 5 })
    const term = fc.record({
      sign: fc.constantFrom('', '', '+', '-'),
      place: fc.constantFrom('', '', 'title', 'body'),
      words: fc.array(fc.constantFrom(...vocabulary), { minLength: 1, maxLength: 2 }),
    })
    const written = ({ sign, place, words }: { sign: string; place: string; words: readonly string[] }): string =>
      `${sign}${place && `${place}:`}${words.length > 1 ? `"${words.join(' ')}"` : words[0]}`
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ title: text, body: text }), { minLength: 1, maxLength: 8 }),
        fc.array(term, { minLength: 1, maxLength: 3 }),
        fc.boolean(),
        async (all, terms, isTyping) => {
          // Each word is somewhere, so that none stands for others that are near.
          const docs = [...all, { title: vocabulary, body: [] }]
          const notes = await open(
            Object.fromEntries(
              docs.map(({ title, body }, at) => [`${at}.md`, note(title.join(' ') || '–', body.join(' '))]),
            ),
          )
          const isOpen = (at: number): boolean => {
            const { sign } = terms[at] as (typeof terms)[number]
            return at === terms.length - 1 && sign !== '-' && isTyping
          }
          const isIn = (words: readonly string[], at: number, inside: readonly string[]): boolean =>
            inside.some((_, start) =>
              words.every((word, step) =>
                isOpen(at) && step === words.length - 1
                  ? inside[start + step]?.startsWith(word)
                  : inside[start + step] === word,
              ),
            )
          const matches = ({ title, body }: (typeof docs)[number]): boolean => {
            const strict = terms.every(({ sign, place, words }, at) => {
              if (sign === '' && place === '' && words.length === 1) return true
              const places = place === 'title' ? [title] : place === 'body' ? [body] : [title, body]
              const isFree = sign !== '-' && words.length === 1
              const hasFamily = (inside: readonly string[]): boolean =>
                isFree && inside.some((one) => areFamily(one, words[0] as string))
              return places.some((inside) => isIn(words, at, inside) || hasFamily(inside)) === (sign !== '-')
            })
            const wanted = terms.flatMap(({ sign, words }, at) => (sign === '-' ? [] : [{ words, at }]))
            const isNear = wanted.some(({ words, at }) =>
              words.some((word, step) => {
                const isLast = step === words.length - 1 && isOpen(at)
                return [...title, ...body].some((one) => (isLast && one.startsWith(word)) || areFamily(one, word))
              }),
            )
            return strict && (wanted.length === 0 || isNear)
          }
          const whole = terms.map(written).join(' ')
          // A quote that is not closed yet.
          const asked = isTyping ? whole.replace(/"$/, '') : `${whole} `
          const found = await idsOf(notes.search(asked).limit(100))
          expect([asked, found.toSorted()]).toEqual([
            asked,
            docs.flatMap((one, at) => (matches(one) ? [String(at)] : [])).toSorted(),
          ])
        },
      ),
      { numRuns: runs(60, 2_000) },
    )
  })
})

describe('Near words', () => {
  /** Mistakes between two words, the slow way: two letters that changed places are one. */
  function distance(a: string, b: string): number {
    const rows = Array.from({ length: a.length + 1 }, (_, at) => [at, ...Array<number>(b.length).fill(0)])
    for (let at = 1; at <= b.length; at++) (rows[0] as number[])[at] = at
    const cell = (row: number, column: number): number => rows[row]?.[column] ?? 0
    for (let i = 1; i <= a.length; i++)
      for (let j = 1; j <= b.length; j++) {
        const same = a[i - 1] === b[j - 1] ? 0 : 1
        let best = Math.min(cell(i - 1, j) + 1, cell(i, j - 1) + 1, cell(i - 1, j - 1) + same)
        if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
          best = Math.min(best, cell(i - 2, j - 2) + 1)
        ;(rows[i] as number[])[j] = best
      }
    return cell(a.length, b.length)
  }

  test('are those that a comparison with each word finds', () => {
    const word = fc.array(fc.constantFrom('a', 'b', 'c'), { maxLength: 7 }).map((letters) => letters.join(''))
    fc.assert(
      fc.property(fc.uniqueArray(word, { maxLength: 60 }), word, fc.nat(2), (words, wanted, most) => {
        const dictionary = words.toSorted()
        const expected = dictionary.map((one) => ({ word: one, distance: distance(one, wanted) }))
        expect(findNearWords(dictionary, wanted, most)).toEqual(expected.filter((one) => one.distance <= most))
      }),
      { numRuns: 400 },
    )
  })

  test('Words are found at their places', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (source) => {
        for (const { word, start, end } of findWords(source))
          expect(findWords(source.slice(start, end)).map((one) => one.word)).toEqual([word])
      }),
    )
  })
})
