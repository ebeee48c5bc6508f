import type { Scalar } from '../query/condition.ts'
import type { Shape } from '../schema/field.ts'

/** Longest text that is worth an index; beyond it nobody asks for equality or order. */
const MAX_TEXT = 120

type Values = Readonly<Record<string, unknown>>

/** Calls a function with every single value at a path of an entry. */
type Reader = (entry: unknown, found: (value: Scalar) => void) => void

/** The rows of every value at a path. */
export interface Postings {
  readonly path: string
  /** True where a row has one value at most. */
  readonly isSingle: boolean
  readonly rows: ReadonlyMap<Scalar, readonly number[]>
}

/** Gathers the values of entries, row after row, for indexes. */
export interface ValueCollector {
  /** All paths that may have an index. */
  readonly paths: readonly string[]
  /** Adds the values of a row, at all paths or at some. */
  add(entry: Values, row: number, paths?: ReadonlySet<string>): void
  /** Adds the paths at which two entries have different values. */
  compare(one: Values, other: Values, differing: Set<string>): void
  /** What was gathered; undefined where there is nothing, or texts that are too long to be asked for. */
  postings(path: string): Postings | undefined
}

/** Makes a collector for every single value in the fields of a collection, also in groups and lists. */
export function createValueCollector(
  fields: Readonly<Record<string, Shape>>,
  declared: readonly string[],
): ValueCollector {
  // What is known of bodies is seldom asked for, and much.
  const { body: _, ...own } = fields
  const text: Shape = { kind: 'text' }
  const always = new Set(['id', 'slug', ...declared])
  const collected = pathsOf({ id: text, slug: text, ...own }).map(([path, read, isSingle]) => ({
    path: path.join('.'),
    isSingle,
    read,
    rows: new Map<Scalar, number[]>() as Map<Scalar, number[]> | undefined,
  }))
  const byPath = new Map(collected.map((one) => [one.path, one]))
  const valuesOf = (read: Reader, entry: Values): Scalar[] => {
    const found: Scalar[] = []
    read(entry, (value) => found.push(value))
    return found
  }
  return {
    paths: collected.map(({ path }) => path),
    add(entry, row, paths) {
      for (const one of collected) {
        if (paths && !paths.has(one.path)) continue
        one.read(entry, (value) => {
          if (typeof value === 'string' && value.length > MAX_TEXT && !always.has(one.path)) one.rows = undefined
          const known = one.rows?.get(value)
          if (!known) one.rows?.set(value, [row])
          // A list may hold a value twice.
          else if (known[known.length - 1] !== row) known.push(row)
        })
      }
    },
    compare(one, other, differing) {
      for (const { path, read } of collected) {
        if (differing.has(path)) continue
        const [before, after] = [valuesOf(read, one), valuesOf(read, other)]
        if (before.length !== after.length || before.some((value, at) => value !== after[at])) differing.add(path)
      }
    },
    postings(path) {
      const { rows, isSingle = false } = byPath.get(path) ?? {}
      return rows && rows.size > 0 ? { path, isSingle, rows } : undefined
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
    return readersOf(shape.item as Shape).map(([path, inner]) => [
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
