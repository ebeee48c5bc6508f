import { addTo } from '../diagnostics/add-to.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import { createWrittenPath } from '../schema/written-path.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Attention, Change, Refusal } from './change.ts'
import { createKeyOrder } from './create-key-order.ts'
import type { EditedSource } from './edited-source.ts'
import { refuseCollection } from './new-entry.ts'
import { refuseName } from './refuse-name.ts'
import { createSources, type ReadOptionsOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { type PlannedValue, writeValues } from './write-values.ts'

/** What is to become of a field. */
export interface Assignment {
  /** The names of the field, from the entry inwards. */
  readonly path: readonly string[]
  /** A value is set, taken away, put into a list, or taken out of one. */
  readonly kind: 'set' | 'unset' | 'add' | 'remove'
  /** The value as text, or another field in braces: `{excerpt}`. */
  readonly text?: string
}

/** Values that are to be set in some entries of a collection. */
export interface ValueSetting {
  readonly collection: string
  readonly assignments: readonly Assignment[]
  /** Only where the field has no value. */
  readonly isAbsentOnly: boolean
  isWanted(entry: LinkedEntry): boolean
}

/** Sets, changes or takes away values of fields in entries of a collection. */
export function setValues(
  subject: ChangeSubject,
  { collection: name, assignments, isAbsentOnly, isWanted }: ValueSetting,
  readOptionsOf: ReadOptionsOf,
): Change | Refusal {
  const found = subject.collections.find((one) => one.collection.name === name)
  if (!found) return refuseCollection(subject, name)
  const { collection, entries } = found
  const refusal = assignments.map((one) => refuse(collection, one)).find((one) => one !== undefined)
  if (refusal) return refusal
  const attention: Attention[] = []
  const changes = new Map<EditedSource, PlannedValue[]>()
  const sourceOf = createSources(subject, readOptionsOf)
  const writtenPath = createWrittenPath(collection.fields, subject.model.blocks)
  const keyOrder = createKeyOrder(collection.fields, subject.model.blocks)
  const rankOf = ({ path: [top = ''] }: Assignment): number => Object.keys(collection.fields).indexOf(top)
  // What comes to stand at one place comes in the order of the fields.
  const inOrder = assignments.toSorted((one, other) => rankOf(one) - rankOf(other))
  for (const entry of entries) {
    if (!isWanted(entry) || 'implicit' in entry.source) continue
    const source = sourceOf(entry)
    const orderOf = (path: readonly PathSegment[]) => keyOrder(path.slice(entry.recordPath.length))
    for (const assignment of inOrder) {
      const path = assignment.path.join('.')
      const written = [...entry.recordPath, ...(writtenPath?.(assignment.path, undefined) ?? assignment.path)]
      const raw = source && valueAt(source.document.value, written)
      if (isAbsentOnly && (fieldValue(entry, assignment.path) !== null || isWrong(entry, raw))) continue
      const value = nextValue(subject, { collection, entry, raw }, assignment)
      // What is written in another way is the same value all the same.
      const isThere = assignment.kind === 'set' && isSameValue(fieldValue(entry, assignment.path), value)
      if (isThere || (source && isSameValue(raw, value))) continue
      const words = `${path} of ${name}/${entry.id}`
      const reason = `${words} ${value === undefined ? 'goes' : `becomes ${JSON.stringify(value)}`}`
      const byHand = { place: entry.locate([]), words: `${words} has to be written by hand` }
      if (source) addTo(changes, source, { path: written, value, orderOf, reason, byHand })
      else attention.push(byHand)
    }
  }
  const written = writeValues(changes)
  const words = assignments
    .map(({ path, kind, text = '' }) => `${path.join('.')} ${SIGNS[kind]} ${text}`.trim())
    .join(', ')
  return { words: `${name}: ${words}`, steps: written.steps, attention: [...attention, ...written.attention] }
}

const SIGNS: Readonly<Record<Assignment['kind'], string>> = { set: '=', unset: 'unset', add: '+=', remove: '-=' }

function refuse(collection: CollectionModel, { path, kind, text = '' }: Assignment): Refusal | undefined {
  const [top = ''] = path
  const name = path.join('.')
  const field = ownField(collection.fields, path)
  if (idKeysOf(collection).includes(top))
    return { refused: `${top} gives the id`, help: 'zinc-pantry rename changes it' }
  if (!field)
    return refuseName(
      `${collection.name} has no field "${name}" that is written`,
      top,
      Object.keys(mergedFields(collection.fields)),
    )
  if (kindOf(field).computed) return { refused: `${name} is computed` }
  if ((kind === 'add' || kind === 'remove') && childrenOf(field).item === undefined)
    return { refused: `${name} is no list` }
  const other = otherField(text)
  const all = allFields(collection)
  if (other && other.join('.') !== EXCERPT && !ownField(all, other))
    return refuseName(`${collection.name} has no field "${other.join('.')}"`, other[0] ?? '', [
      ...Object.keys(mergedFields(all)),
      EXCERPT,
    ])
  return undefined
}

/** A field of an entry, or of its groups. */
function ownField(fields: Fields, [name = '', ...rest]: readonly string[]): AnyField | undefined {
  const merged = mergedFields(fields)
  const field = Object.hasOwn(merged, name) ? merged[name] : undefined
  if (rest.length === 0 || !field) return field
  const { fields: inner } = childrenOf(field)
  return inner && ownField(inner, rest)
}

/** What a body says first, which may be named as a field is. */
const EXCERPT = 'excerpt'

/** The path of the field that stands for a value, as in `{excerpt}`. */
const otherField = (text: string): readonly string[] | undefined => /^\{([\w$.]+)\}$/.exec(text)?.[1]?.split('.')

/** The value of a field, or null where it has none. */
function fieldValue({ part = {}, data = part }: LinkedEntry, path: readonly string[]): unknown {
  let at: unknown = data
  for (const name of path) at = isGroup(at) && Object.hasOwn(at, name) ? at[name] : undefined
  return at ?? null
}

/** True for a value that is written and did not pass. */
const isWrong = ({ data }: LinkedEntry, raw: unknown): boolean => !data && (raw ?? '') !== ''

/** The value that an assignment gives, as it is written; undefined for none. */
function nextValue(
  { model, factsOf }: ChangeSubject,
  {
    collection,
    entry,
    raw,
  }: { readonly collection: CollectionModel; readonly entry: LinkedEntry; readonly raw: unknown },
  { path, kind, text = '' }: Assignment,
): unknown {
  if (kind === 'unset') return undefined
  const other = otherField(text)
  if (other)
    return fieldValue(entry, other) ?? (other.join('.') === EXCERPT ? factsOf(entry)?.excerpt : undefined) ?? raw
  const record = path.reduceRight<unknown>((inner, name) => ({ [name]: inner }), text)
  const read = typeCells(record, collection.fields, { listSeparator: ',', trim: true, blocks: model.blocks })
  const value = valueAt(read, path)
  if (kind === 'set') return value
  const items: readonly unknown[] = Array.isArray(raw)
    ? raw
    : typeof raw === 'string' && raw !== ''
      ? raw.split(collection.cells.listSeparator).map((item) => item.trim())
      : []
  const named = Array.isArray(value) ? value : [value]
  const isNamed = (item: unknown): boolean => named.some((one) => isSameValue(item, one))
  if (kind === 'add') return [...items, ...named.filter((one) => !items.some((item) => isSameValue(item, one)))]
  const left = items.filter((item) => !isNamed(item))
  return left.length === 0 ? undefined : left
}

/** True for values that are written alike. */
const isSameValue = (one: unknown, other: unknown): boolean =>
  JSON.stringify(one ?? null) === JSON.stringify(other ?? null) ||
  (typeof one === 'string' && typeof other !== 'object' && one === String(other))
