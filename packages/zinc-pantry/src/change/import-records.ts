import { isGroup, setOwn } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, leadingOf } from '../schema/kinds.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { writtenKey } from '../schema/written-key.ts'
import { typeCells } from '../validate/type-cells.ts'
import { flattenRecord } from './flatten-record.ts'
import type { Meaning } from './map-headings.ts'
import { withoutNull } from './without-null.ts'

/** A record of a file of somebody else. */
export interface ForeignRecord {
  /** The values by their headings, dotted where they are nested. */
  readonly values: ReadonlyMap<string, unknown>
  /** Where it stands in its document. */
  readonly path: readonly PathSegment[]
  /** The key that it stands under. */
  readonly key?: string
}

/** The records of a document: of a list, or of a group of groups. */
export function listForeign(
  value: unknown,
  isEntered: (name: string) => boolean,
): readonly ForeignRecord[] | undefined {
  const make = (record: unknown, step: PathSegment): ForeignRecord[] =>
    isGroup(record)
      ? [{ values: flattenRecord(record, isEntered), path: [step], ...(typeof step === 'string' ? { key: step } : {}) }]
      : []
  if (Array.isArray(value)) return value.flatMap((record: unknown, at) => make(record, at))
  if (!isGroup(value)) return undefined
  const records = Object.entries(value)
  return records.length > 0 && records.every(([, record]) => isGroup(record))
    ? records.flatMap(([key, record]) => make(record, key))
    : undefined
}

/** A record as a collection has it, by its keys as they are written; cells get the types of their fields. */
export function translateRecord(
  { values }: ForeignRecord,
  meanings: ReadonlyMap<string, Meaning>,
  {
    collection,
    model,
    hasCells,
  }: { readonly collection: CollectionModel; readonly model: Pick<Model, 'blocks'>; readonly hasCells: boolean },
): Readonly<Record<string, unknown>> {
  const record: Record<string, unknown> = {}
  for (const [heading, value] of values) {
    const meaning = meanings.get(heading)
    if (meaning?.kind !== 'field' || value === null || value === '') continue
    place(record, collection.fields, { path: meaning.path, value: hasCells ? readJsonCell(value) : value })
  }
  if (!hasCells) return record
  return typeCells(record, collection.fields, { listSeparator: ';', trim: true, blocks: model.blocks }) as typeof record
}

/** Puts a value under the written keys of some fields. */
function place(
  record: Record<string, unknown>,
  fields: Fields,
  { path: [name = '', ...rest], value }: { readonly path: readonly string[]; readonly value: unknown },
): void {
  const field: AnyField | undefined = mergedFields(fields)[name]
  if (!field) return
  const key = writtenKey(name, field)
  if (rest.length === 0) {
    setOwn(record, key, adaptValue(value, field))
    return
  }
  if (!isGroup(record[key])) setOwn(record, key, {})
  place(record[key] as Record<string, unknown>, childrenOf(field).fields ?? {}, { path: rest, value })
}

/** A value as it is written: lists with commas are lists too, and what queries give of references is their text. */
function adaptValue(value: unknown, field: AnyField): unknown {
  const { item } = childrenOf(field)
  if (Array.isArray(value) && item) return value.map((one) => adaptValue(one, item))
  if (field.kind === 'list' && typeof value === 'string' && !value.includes(';') && value.includes(','))
    return value.split(',').map((one) => one.trim())
  if (!isGroup(value)) return value
  if (leadingOf(field) && typeof value.collection === 'string') return `${value.collection}/${String(value.id)}`
  if (field.kind === 'image')
    return { file: `/${String(value.file)}`, ...(typeof value.alt === 'string' ? { alt: value.alt } : {}) }
  return Object.fromEntries(Object.entries(value).flatMap(([key, inner]) => (inner === null ? [] : [[key, inner]])))
}

/** Groups and lists of groups stand in cells as JSON. */
function readJsonCell(value: unknown): unknown {
  if (typeof value !== 'string' || !/^\s*[[{]/.test(value)) return value
  try {
    return withoutNull(JSON.parse(value))
  } catch {
    return value
  }
}
