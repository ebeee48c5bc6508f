import fc from 'fast-check'
import { beforeAll, describe, expect, test } from 'vitest'
import { choice, date, flag, group, int, list, pantry, ref, text } from 'zinc-pantry'
import { type Answer, answerQuestion, type QuestionProblem } from 'zinc-pantry/engine'
import type { Site } from 'zinc-pantry/query'
import { openFiles } from './helpers.ts'

const configuration = pantry({
  collections: {
    huts: { files: 'huts.json', fields: { name: text(), beds: int(), parent: ref('huts', { optional: true }) } },
    trails: {
      files: 'trails.json',
      fields: {
        title: text(),
        grade: choice(['easy', 'moderate', 'hard']),
        opened: date({ optional: true }),
        loop: flag({ default: false }),
        tags: list(text(), { default: [] }),
        start: group({ hut: ref('huts'), note: text({ optional: true }) }),
        legs: list(group({ hut: ref('huts'), hours: int() }), { default: [] }),
      },
    },
  },
})
const huts = [
  { id: 'gable', name: 'Gable Hut', beds: 24, parent: 'ford' },
  { id: 'ford', name: 'Ford House', beds: 14 },
]
const trails = [
  {
    id: 'high',
    title: 'The High Way',
    grade: 'hard',
    opened: '1937-07-04',
    tags: ['ridge'],
    start: { hut: 'gable' },
    legs: [
      { hut: 'gable', hours: 3 },
      { hut: 'ford', hours: 5 },
    ],
  },
  {
    id: 'low',
    title: 'Low "Way"',
    grade: 'easy',
    loop: true,
    tags: ['ford', 'mill'],
    start: { hut: 'ford', note: 'or not' },
    legs: [{ hut: 'ford', hours: 2 }],
  },
  { id: 'mid', title: 'Mid', grade: 'moderate', opened: '2001-01-31', start: { hut: 'gable' } },
]

let site: Site
beforeAll(async () => {
  const opened = await openFiles(
    { 'huts.json': JSON.stringify(huts), 'trails.json': JSON.stringify(trails) },
    configuration,
  )
  expect(opened.diagnostics).toEqual([])
  site = opened.site
})

const ask = async (question: object) => answerQuestion(site, { collection: 'trails', ...question })
const found = async (question: object) => ((await ask({ fields: 'id', ...question })) as Answer).rows.map(([id]) => id)

describe('Conditions select', () => {
  test.each([
    ['grade = hard', ['high']],
    ['grade != hard', ['low', 'mid']],
    ['grade in (easy, moderate)', ['low', 'mid']],
    ['grade not in (easy, moderate)', ['high']],
    ['opened >= 1937-07-04', ['high', 'mid']],
    ['opened > 1937-07-04 and opened <= 2001-01-31', ['mid']],
    ['opened between 1930-01-01 and 1940-01-01', ['high']],
    ['opened absent', ['low']],
    ['start.note present', ['low']],
    ['loop', ['low']],
    ['not loop', ['high', 'mid']],
    ['loop = false and not (grade = hard)', ['mid']],
    ['title = "The High Way"', ['high']],
    ['title includes \'"Way"\'', ['low']],
    ['title startsWith M or title startsWith L', ['low', 'mid']],
    ['tags includes mill', ['low']],
    ['tags = mill', ['low']],
    ['tags != mill', ['high', 'mid']],
    ['start.hut = gable', ['high', 'mid']],
    ['start.hut.beds < 20', ['low']],
    ['start.hut.parent.name startsWith Ford', ['high', 'mid']],
    ['legs.hut.beds < 20', ['high', 'low']],
    ['legs some (hut = ford and hours > 3)', ['high']],
    ['legs every (hours < 4)', ['low', 'mid']],
    ['legs none (hut.beds > 20)', ['low', 'mid']],
    ['grade = hard or grade = easy and loop', ['high', 'low']],
  ])('%s', async (where, expected) => expect(await found({ where })).toEqual(expected))

  test('Sort keys, limit and offset', async () => {
    expect(await found({ sort: '-opened' })).toEqual(['mid', 'high', 'low'])
    expect(await found({ sort: 'start.hut.name, -title' })).toEqual(['low', 'high', 'mid'])
    expect(await found({ sort: 'title', limit: 1, offset: 1 })).toEqual(['mid'])
  })

  test('Fields are read through groups, references and lists', async () => {
    const answer = (await ask({
      fields: 'title,start.hut.parent.name,legs.hut.name',
      where: 'grade != moderate',
    })) as Answer
    expect(answer.rows).toEqual([
      ['The High Way', 'Ford House', ['Gable Hut', 'Ford House']],
      ['Low "Way"', null, ['Ford House']],
    ])
  })
})

describe('Mistakes are told at their place', () => {
  const show = ({ source, message, start, end, help }: QuestionProblem) =>
    `${source}\n${' '.repeat(start)}${'^'.repeat(end - start)} ${message}${help ? ` (${help})` : ''}`
  const problem = async (question: object) => show(((await ask(question)) as { problem: QuestionProblem }).problem)

  test('In conditions', async () => {
    const wrong = [
      'grade',
      'grade =',
      'grade = medium',
      'grade < hard',
      'titel = x',
      'start.hut.bed > 1',
      'start = x',
      'legs > 2',
      'title some (x = 1)',
      'opened > yesterday',
      'start.hut.beds > many',
      'loop = yes',
      '(grade = hard',
      'grade = hard)',
      'title = "High',
      'grade in hard',
      'not',
      '',
      'and',
      'title = x title = y',
      'opened between 2001-01-01',
    ]
    expect(`\n${(await Promise.all(wrong.map((where) => problem({ where })))).join('\n')}\n`).toMatchInlineSnapshot(`
      "
      grade
           ^ Expected one of = != in not in present absent after grade
      grade =
             ^ Expected a value
      grade = medium
              ^^^^^^ grade is never "medium" (It is one of easy, moderate, hard)
      grade < hard
            ^ < needs a number, a date or a text; grade is none
      titel = x
      ^^^^^ Unknown field "titel" (Did you mean "title"?)
      start.hut.bed > 1
      ^^^^^^^^^^^^^ Unknown field "bed" (Did you mean "beds"?)
      start = x
              ^ start is a group: name one of its fields (hut, note)
      legs > 2
           ^ > needs a number, a date or a text; legs is none
      title some (x = 1)
      ^^^^^ title is no list
      opened > yesterday
               ^^^^^^^^^ Expected a date as YYYY-MM-DD, found yesterday
      start.hut.beds > many
                       ^^^^ Expected a number, found many
      loop = yes
             ^^^ Expected true or false, found yes
      (grade = hard
                   ^ Expected ) at the end
      grade = hard)
                  ^ Expected "and", "or" or the end, found )
      title = "High
              ^ Quote is never closed
      grade in hard
               ^^^^ Expected (, found hard
      not
         ^ Expected the name of a field

      ^ Expected the name of a field
      and
      ^^^ Unknown field "and" (There are id, slug, title, grade, opened, loop, tags, start, legs)
      title = x title = y
                ^^^^^ Expected "and", "or" or the end, found title
      opened between 2001-01-01
                               ^ Expected and at the end
      "
    `)
  })

  test('In the other parts', async () => {
    const wrong = [
      { sort: '-titel' },
      { sort: 'title,legs' },
      { sort: 'legs.hours' },
      { fields: 'title, start.hutt.name' },
      { collection: 'trial' },
      { collection: 'notices' },
    ]
    expect(`\n${(await Promise.all(wrong.map(problem))).join('\n')}\n`).toMatchInlineSnapshot(`
      "
      -titel
       ^^^^^ Unknown field "titel" (Did you mean "title"?)
      title,legs
            ^^^^ legs has no single value to sort by
      legs.hours
      ^^^^^^^^^^ legs.hours has no single value to sort by
      title, start.hutt.name
             ^^^^^^^^^^^^^^^ Unknown field "hutt" (Did you mean "hut"?)
      trial
      ^^^^^ There is no collection "trial" (There are huts, trails)
      notices
      ^^^^^^^ There is no collection "notices" (There are huts, trails)
      "
    `)
  })

  test('No text is answered by an exception', async () => {
    const piece = fc.constantFrom(
      'grade',
      'legs',
      'hut',
      '.',
      '=',
      '<',
      '(',
      ')',
      'some',
      'not',
      'in',
      ',',
      '"',
      "'",
      '\\',
      'and',
      'or',
      'between',
      ' ',
      'hard',
      '2',
      'constructor',
      '__proto__',
      '🏔',
    )
    await fc.assert(
      fc.asyncProperty(fc.array(piece, { maxLength: 12 }), async (pieces) => {
        const where = pieces.join(' ')
        const answer = await ask({ where, sort: pieces.join(''), fields: pieces.join(',') })
        if ('problem' in answer) expect(answer.problem.end).toBeGreaterThan(answer.problem.start)
      }),
      { numRuns: 800 },
    )
  })
})
