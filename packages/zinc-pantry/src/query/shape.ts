import type { Shape } from '../schema/shape.ts'
import { parseStep } from '../values/computed-steps.ts'
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
  if (fields && Object.hasOwn(fields, name)) return fields[name]
  return ofMany(shape, name) as Shape | undefined
}

/** Why something cannot be computed of a value, in words: a sum of what is no number, bounds that are none. */
export function findWrongStep(shape: Shape, step: string): string | undefined {
  const { name, argument } = parseStep(step) ?? {}
  if (name === undefined || argument === undefined || !ofMany(shape, step)) return undefined
  if (name === 'distance') {
    const point = argument.split(',').map(Number)
    return point.length === 2 && point.every((one) => !Number.isNaN(one)) && argument !== ''
      ? undefined
      : 'distance(…) takes the latitude and the longitude of a point, such as distance(54.7, -3.02)'
  }
  if (name === 'band') {
    const isWrong = argument === '' || argument.split(',').some((bound) => bound === '' || Number.isNaN(Number(bound)))
    return isWrong ? 'band(…) takes the smallest number of each band, such as band(0, 10, 20)' : undefined
  }
  if (shape.kind !== 'list') return undefined
  const { end, crossing, isSingle } = followPath(shape.item, argument === '' ? [] : argument.split('.'))
  return end.kind === 'number' && !crossing && isSingle
    ? undefined
    : `${name}(…) takes a number of the items${argument === '' ? '' : `; ${argument} is none`}`
}

/** The names that can follow, or undefined where none can. */
export function fieldsOf(shape: Shape, shapes: Shapes): { readonly [name: string]: Shape } | undefined {
  if (shape.kind === 'group')
    return shape.targets ? { ...commonFields(shape.targets, shapes), ...shape.fields } : shape.fields
  return shape.kind === 'ref' ? shapes.get(shape.target)?.fields : undefined
}

/** The fields that entries of all of some collections have, of one kind. */
function commonFields(targets: readonly string[], shapes: Shapes): Record<string, Shape> {
  const [first, ...others] = targets.map((name) => shapes.get(name)?.fields ?? {})
  const isCommon = ([name, { kind }]: [string, Shape]): boolean =>
    others.every((fields) => Object.hasOwn(fields, name) && fields[name]?.kind === kind)
  return Object.fromEntries(Object.entries(first ?? {}).filter(isCommon))
}

/** A path up to a reference, and the way on behind it. */
export interface Crossing {
  /** Names up to the reference itself. */
  readonly before: readonly string[]
  /** The collection that it leads to. */
  readonly target?: string
  /** The collections that it may lead to, where its value says which. */
  readonly targets?: readonly string[]
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
    if (at.kind === 'group' && at.targets && !Object.hasOwn(at.fields, name)) {
      const crossing = { before: path.slice(0, position), targets: at.targets, after: path.slice(position) }
      return { end: at, crossing, isSingle }
    }
    at = (ofMany(at, name) as Shape | undefined) ?? at.fields?.[name] ?? TEXT
  }
  return { end: at, isSingle }
}
