import type { Scalar } from '../query/condition.ts'
import type { Shape } from '../schema/shape.ts'

/** Longest text that is worth an index; beyond it nobody asks for equality or order. */
const MAX_TEXT = 120

type Values = Readonly<Record<string, unknown>>

/** Calls a function with every single value at a path of an entry. */
type Reader = (entry: unknown, found: (value: Scalar) => void) => void

/** The posting lists of a path: the rows of every value. */
export interface Postings {
  readonly path: string
  /** True where a row has one value at most. */
  readonly isSingle: boolean
  readonly rows: ReadonlyMap<Scalar, readonly number[]>
}

/** Reads the values of entries for indexes. */
export interface ValueReaders {
  /** All paths that may have an index. */
  readonly paths: readonly string[]
  /** The values of an entry, by path. */
  valuesOf(entry: Values): readonly (readonly Scalar[])[]
  /** The posting lists of the values at a path; undefined where there is none, or texts too long to be asked for. */
  postings(path: string, entries: readonly Values[]): Postings | undefined
}

/** Makes readers of every single value in the fields of a collection, also in groups and lists. */
export function createValueReaders(fields: Readonly<Record<string, Shape>>, declared: readonly string[]): ValueReaders {
  // What is known of bodies is seldom asked for, and much.
  const { body: _, ...own } = fields
  const text: Shape = { kind: 'text' }
  const always = new Set(['id', 'slug', ...declared])
  const readers = pathsOf({ id: text, slug: text, ...own }).map(([path, read, isSingle]) => ({
    path: path.join('.'),
    isSingle,
    read,
  }))
  const gatherAt = (
    entries: readonly Values[],
    { path, read, isSingle }: (typeof readers)[number],
  ): Postings | undefined => {
    const rows = new Map<Scalar, number[]>()
    let isTooLong = false
    for (const [row, entry] of entries.entries()) {
      read(entry, (value) => {
        if (typeof value === 'string' && value.length > MAX_TEXT && !always.has(path)) isTooLong = true
        const known = rows.get(value)
        if (!known) rows.set(value, [row])
        // A list may hold a value twice.
        else if (known[known.length - 1] !== row) known.push(row)
      })
      if (isTooLong) return undefined
    }
    return rows.size > 0 ? { path, isSingle, rows } : undefined
  }
  return {
    paths: readers.map(({ path }) => path),
    valuesOf: (entry) =>
      readers.map(({ read }) => {
        const found: Scalar[] = []
        read(entry, (value) => found.push(value))
        return found
      }),
    postings(path, entries) {
      const reader = readers.find((one) => one.path === path)
      return reader && gatherAt(entries, reader)
    },
  }
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
  if (shape.kind === 'anything') return []
  if (shape.kind === 'list')
    return readersOf(shape.item).map(([path, inner]) => [
      path,
      (value, found) => {
        if (Array.isArray(value)) for (const item of value) inner(item, found)
      },
      false,
    ])
  const read: Reader = (value, found) => {
    if (value !== null && value !== undefined) found(value as Scalar)
  }
  return [[[], read, true]]
}
