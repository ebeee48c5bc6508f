import type { Scalar } from '../query/condition.ts'
import { followPath } from '../query/shape.ts'
import type { Shape } from '../schema/shape.ts'
import type { RowList } from '../values/row-list.ts'
import { COUNT_STEP, KEYS_STEP, readStep } from '../values/steps.ts'
import { gatherPostings, type PostingLists } from './posting-lists.ts'

/** Longest text that is worth an index; beyond it nobody asks for equality or order. */
const MAX_TEXT = 120

type Values = Readonly<Record<string, unknown>>

/** Calls a function with every single value at a path of an entry. */
type Reader = (entry: unknown, found: (value: Scalar) => void) => void

/** The posting lists of a path. */
export interface Postings extends PostingLists {
  /** True where a row has one value at most. */
  readonly isSingle: boolean
}

/** Reads the values of entries for indexes. */
export interface ValueReaders {
  /** All paths that may have an index. */
  readonly paths: readonly string[]
  /** The values of an entry, by path. */
  valuesOf(entry: Values): readonly (readonly Scalar[])[]
  /** Makes a reader of the values at a path. */
  readerAt(path: string): (entry: Values) => readonly Scalar[]
  /** The posting lists of the values at a path; undefined where there is none, or texts too long to be asked for. */
  postings(path: string, entries: RowList<Values>): Postings | undefined
}

/** Makes readers of every single value in the fields of a collection, also in groups and lists. */
export function createValueReaders(fields: Readonly<Record<string, Shape>>, declared: readonly string[]): ValueReaders {
  // What is known of bodies is seldom asked for, and much.
  const { body: _, ...own } = fields
  const text: Shape = { kind: 'text' }
  const always = new Set(['id', 'slug', ...declared])
  const usual = pathsOf({ id: text, slug: text, ...own })
  const readers = [...usual, ...keyReaders(own, declared, usual)].map(([path, read, isSingle]) => ({
    path: path.join('.'),
    isSingle,
    read,
  }))
  const gatherAt = (
    entries: RowList<Values>,
    { path, read, isSingle }: (typeof readers)[number],
  ): Postings | undefined => {
    const gatherer = gatherPostings()
    let isTooLong = false
    // Values of several types, as of what may be anything, have no order.
    const types = new Set<string>()
    for (let row = 0; row < entries.length; row++) {
      read(entries.at(row), (value) => {
        if (typeof value === 'string' && value.length > MAX_TEXT && !always.has(path)) isTooLong = true
        types.add(typeof value)
        gatherer.add(value, row)
      })
      if (isTooLong || types.size > 1) return undefined
    }
    return types.size > 0 ? { isSingle, ...gatherer.finish() } : undefined
  }
  return {
    paths: readers.map(({ path }) => path),
    valuesOf: (entry) => readers.map(({ read }) => listValues(read, entry)),
    readerAt(path) {
      const reader = readers.find((one) => one.path === path)
      return (entry) => (reader ? listValues(reader.read, entry) : NONE)
    },
    postings(path, entries) {
      const reader = readers.find((one) => one.path === path)
      return reader && gatherAt(entries, reader)
    },
  }
}

function listValues(read: Reader, entry: Values): readonly Scalar[] {
  const found: Scalar[] = []
  read(entry, (value) => found.push(value))
  // They are held for each entry and path: a list that was added to has room for 17.
  return found.length === 0 ? NONE : found.slice()
}

const NONE: readonly Scalar[] = []

/** Readers of the values of keys of maps that have an index because it is declared. */
function keyReaders(
  fields: Readonly<Record<string, Shape>>,
  declared: readonly string[],
  usual: readonly PathReader[],
): PathReader[] {
  const known = new Set(usual.map(([path]) => path.join('.')))
  return declared.flatMap((name): PathReader[] => {
    if (known.has(name)) return []
    const path = name.split('.')
    const { isSingle, end } = followPath({ kind: 'group', fields }, path)
    if (end.item || end.kind === 'group') return []
    return [[path, (entry, found) => readAll(entry, path, found), isSingle]]
  })
}

/** Every single value at a path, of lists those of all items. */
function readAll(value: unknown, path: readonly string[], found: (value: Scalar) => void): void {
  const [step, ...rest] = path
  if (value === null || value === undefined) return
  if (Array.isArray(value) && step !== COUNT_STEP) for (const item of value) readAll(item, path, found)
  else if (step === undefined) found(value as Scalar)
  else if (typeof value === 'object') readAll(readStep(value, step), rest, found)
}

type PathReader = readonly [path: readonly string[], read: Reader, isSingle: boolean]

function pathsOf(fields: Readonly<Record<string, Shape>>): PathReader[] {
  return Object.entries(fields).flatMap(([name, shape]) =>
    readersOf(shape).map(
      ([path, inner, isSingle]): PathReader => [
        [name, ...path],
        (value, found) => {
          if (typeof value === 'object' && value !== null) inner((value as Values)[name], found)
        },
        isSingle,
      ],
    ),
  )
}

function readersOf(shape: Shape): PathReader[] {
  if (shape.kind === 'group') return pathsOf(shape.fields ?? {})
  if (shape.kind === 'map') {
    // Writers choose the keys, so that nobody knows how many paths there would be to their values.
    const keys = readersOf({ kind: 'list', item: shape.keys }).filter(([path]) => path.length === 0)
    return [COUNT, ...keys.map(([, read]) => stepped(KEYS_STEP, read))]
  }
  if (shape.kind === 'list') {
    const inner = readersOf(shape.item).map(
      ([path, read]): PathReader => [
        path,
        (value, found) => {
          if (Array.isArray(value)) for (const item of value) read(item, found)
        },
        false,
      ],
    )
    // Of lists within lists nobody asks for the numbers.
    return [COUNT, ...inner.filter(([path]) => path.at(-1) !== COUNT_STEP)]
  }
  const read: Reader = (value, found) => {
    if (value !== null && value !== undefined && typeof value !== 'object') found(value as Scalar)
  }
  return [[[], read, true]]
}

const stepped = (step: string, read: Reader): PathReader => [
  [step],
  (value, found) => {
    if (typeof value === 'object' && value !== null) read(readStep(value, step), found)
  },
  false,
]

/** The number of items or keys. */
const COUNT: PathReader = [
  [COUNT_STEP],
  (value, found) => {
    if (typeof value === 'object' && value !== null) found(readStep(value, COUNT_STEP) as Scalar)
  },
  true,
]
