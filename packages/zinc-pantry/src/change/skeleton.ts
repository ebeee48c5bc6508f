import { isGroup, setOwn } from '../diagnostics/own-key.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { alternativesOf, mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, expectedOf, kindOf, leadingOf } from '../schema/kinds.ts'
import { isRest, writtenKey } from '../schema/written-key.ts'
import { choicesOf } from './model-names.ts'
import type { NewRecord } from './write-record.ts'

/** A required value that nobody has given yet. */
export interface MissingValue {
  /** The names of the fields that lead to it, and positions in lists. */
  readonly names: readonly string[]
  readonly field: AnyField
}

/** What is known of an entry before it is written. */
export interface KnownValues {
  /** Values by their keys, as they are written. */
  readonly given: Readonly<Record<string, unknown>>
  /** The present day as YYYY-MM-DD, and the present moment. */
  readonly today: string
  readonly now: string
  /** True for the row of a table, which cannot have a list without items. */
  readonly hasCells: boolean
  /** What a writer may put where a reference is: `gable, ledge`. */
  listTargets(collection: string): string
}

/** An entry with what it must have and what has a default, in the order of its schema, and what is still missing. */
export interface Skeleton extends NewRecord {
  readonly missing: readonly MissingValue[]
}

/** What a field stands in: its keys as they are written, and its names. */
interface Above {
  readonly keys: readonly string[]
  readonly names: readonly string[]
}

/** Makes the skeleton of an entry of some fields. */
export function createSkeleton(fields: Fields, known: KnownValues): Skeleton {
  const comments = new Map<string, string>()
  const missing: MissingValue[] = []

  const fill = (own: Fields, given: Readonly<Record<string, unknown>>, above: Above): Record<string, unknown> => {
    const value: Record<string, unknown> = {}
    const left = new Set(Object.keys(given))
    for (const [name, field] of Object.entries(shapeOf(own, given))) {
      const key = writtenKey(name, field)
      if (isRest(field) || kindOf(field).computed) continue
      const at = { keys: [...above.keys, key], names: [...above.names, name] }
      const inner = left.delete(key) ? given[key] : undefined
      const filled = fillField(field, inner, at)
      if (filled === undefined) continue
      setOwn(value, key, filled)
      const comment = describe(field, filled)
      if (comment !== '') comments.set(at.keys.join('.'), comment)
    }
    const others = Object.fromEntries([...left].map((key) => [key, given[key]]))
    return { ...others, ...value }
  }

  /** The value of a field as it is written; undefined where it needs none, null where somebody has to give it. */
  const fillField = (field: AnyField, given: unknown, at: Above): unknown => {
    const { options } = field
    const { fields: inner, item } = childrenOf(field)
    if (inner && (given === undefined || isGroup(given)) && (given !== undefined || options.optional !== true)) {
      if (given === undefined && options.default !== undefined) return options.default
      const value = fill(inner, given ?? {}, at)
      return Object.keys(value).length === 0 && given === undefined ? undefined : value
    }
    const holdsGroups = field.kind === 'list' && item && childrenOf(item).fields
    const fillItem = (one: unknown, position: number): unknown => {
      const names = [...at.names, String(position)]
      return item && fillField(item, one, { ...at, names })
    }
    if (given !== undefined) return holdsGroups && Array.isArray(given) ? given.map(fillItem) : given
    if (options.default !== undefined)
      return known.hasCells || isEmptyList(options.default) ? undefined : options.default
    if (options.optional === true) return undefined
    if (field.kind === 'date') return known.today
    if (field.kind === 'instant') return known.now
    if (field.kind === 'list' && !field.options.minItems && !known.hasCells) return []
    if (holdsGroups) return [fillItem(undefined, 0)]
    missing.push({ names: at.names, field })
    return null
  }

  /** What is said of a value to who fills it in. */
  const describe = (field: AnyField, value: unknown): string => {
    const { description, section: _, ...options } = field.options
    const words = choicesOf(field)
    const leading = leadingOf(field) ?? leadingOf(childrenOf(field).item ?? field)
    const allowed =
      words.length > 0 && words.length <= MOST_WORDS
        ? words.join(', ')
        : leading
          ? leading.targets.map(known.listTargets).filter(Boolean).join('; ')
          : value === null && field.kind !== 'text'
            ? expectedOf(field) + rangeOf(options)
            : ''
    return [description, allowed].filter(Boolean).join(': ').replaceAll(/\s+/g, ' ')
  }

  return { value: fill(fields, known.given, { keys: [], names: [] }), comments, missing }
}

/** More words than that are no help in a comment. */
const MOST_WORDS = 8

const isEmptyList = (value: unknown): boolean => Array.isArray(value) && value.length === 0

function rangeOf(options: object): string {
  const { minimum, maximum } = options as { readonly minimum?: unknown; readonly maximum?: unknown }
  if (minimum !== undefined && maximum !== undefined) return ` from ${minimum} to ${maximum}`
  if (minimum !== undefined) return ` from ${minimum}`
  return maximum === undefined ? '' : ` up to ${maximum}`
}

/** The fields of the shape that an entry has; of a variant that is not chosen yet only those of all. */
function shapeOf(fields: Fields, given: Readonly<Record<string, unknown>>): Fields {
  const { key, alternatives } = alternativesOf(fields)
  if (key === undefined) return fields
  const chosen = alternatives.find(({ name }) => name === given[key])
  return chosen ? { ...chosen.fields, [key]: mergedFields(fields)[key] as AnyField } : fields
}
