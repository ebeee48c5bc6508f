import type { Shape } from '../schema/field.ts'

export type { Shape }

/** The shapes of all collections by name. */
export type Shapes = ReadonlyMap<string, Shape>

const TEXT: Shape = { kind: 'text' }

/** The shape of an entry: its fields, with the id and the slug that every entry has. */
export const entryShape = (fields: { readonly [name: string]: Shape }): Shape => ({
  kind: 'group',
  fields: { id: TEXT, slug: TEXT, ...fields },
})

/** The shape below a name: of a group's field, or of a field of the entry that a reference leads to. */
export function stepInto(shape: Shape, name: string, shapes: Shapes): Shape | undefined {
  const fields = fieldsOf(shape, shapes)
  return fields && Object.hasOwn(fields, name) ? fields[name] : undefined
}

/** The names that can follow, or undefined where none can. */
export function fieldsOf(shape: Shape, shapes: Shapes): { readonly [name: string]: Shape } | undefined {
  if (shape.kind === 'group') return shape.fields
  return shape.kind === 'ref' ? shapes.get(shape.target ?? '')?.fields : undefined
}

/** The collections that a path leads through by references. */
export function targetsOnPath(
  shape: Shape,
  path: readonly string[],
  shapes: Shapes,
): { targets: string[]; end: Shape } {
  const targets: string[] = []
  let at = shape
  for (const name of path) {
    if (at.kind === 'ref') targets.push(at.target ?? '')
    at = stepInto(at, name, shapes) ?? TEXT
  }
  return { targets, end: at }
}
