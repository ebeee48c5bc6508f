import type { AnyField } from './any-field.ts'
import type { FieldOptions, Fields } from './field.ts'
import { childrenOf, isField, kindOf } from './kinds.ts'

/** Options that are said to people. */
const SAID: readonly (keyof FieldOptions)[] = ['label', 'description', 'examples', 'deprecated', 'section', 'hints']

/** How much of fields is left out beside what is said of them, and their constraints among options. */
interface Outlining {
  /** True for a field, or one inside of another, of which it counts for nothing whether there may be none. */
  mayBeAbsent(field: AnyField, isInside: boolean): boolean
  /** Leaves out constraints that are declared beside options too. */
  readonly isWhole: boolean
}

/**
 * Fields without what only decides whether a value is taken: of two sets with one outline, a value that both take becomes the same.
 * What one of several alternatives takes the others do not get, so that these stay as they are.
 */
export const outlineChecks = (fields: Fields): Fields =>
  outlineFields(fields, {
    isWhole: true,
    // An empty group of cells is there where nothing in it must be.
    mayBeAbsent: (field, isInside) => !isInside && childrenOf(field).fields === undefined,
  })

/** Fields without what counts for nothing once their values are checked. */
export const outlineValues = (fields: Fields): Fields =>
  outlineFields(fields, { isWhole: false, mayBeAbsent: () => true })

const outlineFields = (fields: Fields, outlining: Outlining): Fields =>
  outlineInside(fields, outlining, false) as Fields

function outlineField(field: AnyField, outlining: Outlining, isInside: boolean): unknown {
  if (childrenOf(field).alternatives) return field
  const { options, base: _, ...declared } = field
  const constraints = new Set(constraintsOf(field))
  const left = new Set([...SAID, ...constraints, ...(outlining.mayBeAbsent(field, isInside) ? ['optional'] : [])])
  const beside = Object.entries(declared).filter(([name]) => !outlining.isWhole || !constraints.has(name))
  return {
    ...(outlineInside(Object.fromEntries(beside), outlining, true) as object),
    options: Object.fromEntries(Object.entries(options).filter(([name]) => !left.has(name))),
  }
}

function constraintsOf(field: AnyField): readonly string[] {
  const { item } = childrenOf(field)
  return item && canBeOff(item) ? [] : (kindOf(field).constraints?.(field) ?? [])
}

/** True for items that may be switched off: such count, and are none of the value. */
function canBeOff(item: AnyField): boolean {
  const { blocks, alternatives = [] } = childrenOf(item)
  return blocks !== undefined || alternatives.some(canBeOff)
}

function outlineInside(value: unknown, outlining: Outlining, isInside: boolean): unknown {
  if (!isPlain(value)) return value
  const outline = (inner: unknown): unknown =>
    isField(inner) ? outlineField(inner, outlining, isInside) : outlineInside(inner, outlining, isInside)
  return Object.fromEntries(Object.entries(value).map(([name, inner]) => [name, outline(inner)]))
}

/** True for an object that was written, and not made by a library. */
function isPlain(value: unknown): value is object {
  if (typeof value !== 'object' || value === null || '~standard' in value) return false
  const prototype: unknown = Object.getPrototypeOf(value)
  return prototype === Object.prototype || prototype === null
}
