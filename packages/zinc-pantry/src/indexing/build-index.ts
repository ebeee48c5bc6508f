import { setOwn } from '../diagnostics/own-key.ts'
import type { Scalar } from '../query/condition.ts'
import type { CollectionIndex, FieldIndex } from '../query/field-index.ts'
import type { Shape } from '../schema/field.ts'

/** Longest text that is worth an index; beyond it nobody asks for equality or order. */
const MAX_TEXT = 120

type Values = Readonly<Record<string, unknown>>

/**
 * Builds the sorted index of every single value in the fields of a collection, also in groups and
 * lists. A text field with a longer text than 120 characters gets none.
 */
export function buildIndex(fields: Readonly<Record<string, Shape>>, entries: readonly Values[]): CollectionIndex {
  const index: Record<string, FieldIndex> = {}
  // What is known of bodies is seldom asked for, and much.
  const { body: _, ...indexed } = fields
  for (const [path, read] of pathsOf(indexed)) {
    const built = buildFieldIndex(entries, read)
    if (built) setOwn(index, path.join('.'), built)
  }
  return index
}

/** Calls a function with every single value at a path of an entry. */
type Reader = (entry: unknown, found: (value: Scalar) => void) => void

function pathsOf(fields: Readonly<Record<string, Shape>>): [path: string[], read: Reader][] {
  return Object.entries(fields).flatMap(([name, shape]) =>
    readersOf(shape).map(([path, inner]): [string[], Reader] => [
      [name, ...path],
      (value, found) => {
        if (typeof value === 'object' && value !== null) inner((value as Values)[name], found)
      },
    ]),
  )
}

function readersOf(shape: Shape): [path: string[], read: Reader][] {
  if (shape.kind === 'group') return pathsOf(shape.fields ?? {})
  if (shape.kind === 'anything') return []
  if (shape.kind === 'list')
    return readersOf(shape.item as Shape).map(([path, inner]) => [
      path,
      (value, found) => {
        if (Array.isArray(value)) for (const item of value) inner(item, found)
      },
    ])
  return [
    [
      [],
      (value, found) => {
        if (value !== null && value !== undefined) found(value as Scalar)
      },
    ],
  ]
}

function buildFieldIndex(entries: readonly Values[], read: Reader): FieldIndex | undefined {
  const postings = new Map<Scalar, number[]>()
  let suitable = true
  for (let position = 0; position < entries.length && suitable; position++) {
    read(entries[position], (value) => {
      if (typeof value === 'string' && value.length > MAX_TEXT) suitable = false
      const known = postings.get(value)
      if (!known) postings.set(value, [position])
      // A list may hold a value twice.
      else if (known[known.length - 1] !== position) known.push(position)
    })
  }
  if (!suitable) return undefined
  const values = [...postings.keys()].sort((a, b) => (a < b ? -1 : 1))
  const starts = [0]
  const positions: number[] = []
  for (const value of values) {
    for (const position of postings.get(value) ?? []) positions.push(position)
    starts.push(positions.length)
  }
  return { values, starts, entries: positions }
}
