import type { Shape } from '../schema/shape.ts'
import { ofMany } from '../values/steps.ts'

export type { Shape }

/** The shapes of all collections by name. */
export type Shapes = ReadonlyMap<string, Shape>

/** A stored entry, or a group in one. */
export type StoredValue = Readonly<Record<string, unknown>>

const TEXT: Shape = { kind: 'text' }

/** The shape of an entry: its fields, with the id and the slug that every entry has. */
export const entryShape = (fields: { readonly [name: string]: Shape }): Shape => ({
  kind: 'group',
  fields: { id: TEXT, slug: TEXT, ...fields },
})

/** The shape below a name: of a group's field, of a field of the entry that a reference leads to, or of the value of a key. */
export function stepInto(shape: Shape, name: string, shapes: Shapes): Shape | undefined {
  const fields = fieldsOf(shape, shapes)
  if (fields) return Object.hasOwn(fields, name) ? fields[name] : undefined
  return ofMany(shape, name) as Shape | undefined
}

/** The names that can follow, or undefined where none can. */
export function fieldsOf(shape: Shape, shapes: Shapes): { readonly [name: string]: Shape } | undefined {
  if (shape.kind === 'group') return shape.fields
  return shape.kind === 'ref' ? shapes.get(shape.target)?.fields : undefined
}

/** A path up to a reference, and the way on behind it. */
export interface Crossing {
  /** Names up to the reference itself. */
  readonly before: readonly string[]
  readonly target: string
  /** Names below the entry it leads to. */
  readonly after: readonly string[]
}

/** The shape at the end of a path that follows no references, or the first reference that it follows. */
export function followPath(
  shape: Shape,
  path: readonly string[],
): { end: Shape; crossing?: Crossing; isSingle: boolean } {
  let at = shape
  let isSingle = true
  for (const [position, name] of path.entries()) {
    const many = ofMany(at, name) as Shape | undefined
    if (many) {
      at = many
      continue
    }
    if (at.kind === 'list') {
      isSingle = false
      at = at.item
    }
    if (at.kind === 'ref') {
      const crossing = { before: path.slice(0, position), target: at.target, after: path.slice(position) }
      return { end: at, crossing, isSingle }
    }
    at = (ofMany(at, name) as Shape | undefined) ?? at.fields?.[name] ?? TEXT
  }
  return { end: at, isSingle }
}
