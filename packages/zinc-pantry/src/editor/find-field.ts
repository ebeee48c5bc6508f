import { collectionLevel, type FieldLevel } from '../change/model-names.ts'
import { takeApart, type WrittenField, type WrittenGroup } from '../change/written-fields.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { pointerSteps } from '../schema/pointer.ts'
import { asGroup } from '../validate/name-record.ts'
import type { FileReading } from './editor-site.ts'
import type { Cursor } from './find-cursor.ts'
import { MARK } from './find-cursor.ts'

/** What a schema says of the place of a cursor. */
export interface FieldPlace {
  readonly collection: CollectionModel
  /** The path of the record in its document. */
  readonly recordPath: readonly PathSegment[]
  /** The fields whose value or item stands there. */
  readonly fields: readonly WrittenField[]
  /** The groups that could have another key there. */
  readonly groups: readonly WrittenGroup[]
  /** The blocks that could be told there, by their key. */
  readonly blocks: readonly string[]
}

/** Finds what may stand at a cursor, by the collections that read its file. */
export const findFieldPlaces = (
  model: Model,
  readings: readonly FileReading[],
  cursor: Cursor,
): readonly FieldPlace[] => readings.flatMap((reading) => findFieldPlace(model, reading, cursor) ?? [])

function findFieldPlace(model: Model, { collection, holdsMany }: FileReading, cursor: Cursor): FieldPlace | undefined {
  const recordPath = recordPathOf(collection, holdsMany, cursor)
  const level = collectionLevel(model, collection.name)
  if (!recordPath || !level) return undefined
  const record = valueAt(cursor.value, recordPath)
  // A record of which nothing is written yet but what may become its first key.
  const isBare =
    record === MARK ||
    record === null ||
    record === undefined ||
    (cursor.part === 'value' && !isGroup(record) && collection.value === undefined)
  const value = isBare ? {} : asGroup(record, collection)
  // What is derived is not written.
  const parts = takeApart(model, { ...level, fields: collection.fields }, { value, path: recordPath })
  const pictures = parts.fields.flatMap(withPictureParts)
  const fields = [...parts.fields, ...pictures.flatMap((one) => one.fields)]
  const groups = [...parts.groups, ...pictures.map((one) => one.group)]
  const isThere = (path: readonly PathSegment[]): boolean => path.join('\n') === cursor.path.join('\n')
  const own = cursor.part === 'value' ? fields.filter((one) => isThere(one.path)) : []
  const within = groups.filter(
    (one) => isThere(one.path) && (cursor.part === 'key' || (isBare && one.path.length === recordPath.length)),
  )
  const holder = cursor.path.slice(0, -1).join('\n')
  const told =
    cursor.part === 'value'
      ? groups.filter(({ path, blocks }) => blocks?.key === cursor.path.at(-1) && path.join('\n') === holder)
      : []
  return {
    collection,
    recordPath,
    fields: own,
    groups: within,
    blocks: told.flatMap(({ blocks }) => blocks?.names ?? []),
  }
}

/** The path of the record that a cursor is in. */
function recordPathOf(
  { records }: CollectionModel,
  holdsMany: boolean,
  { path, part }: Cursor,
): readonly PathSegment[] | undefined {
  if (!holdsMany) return []
  const steps = pointerSteps(records ?? '')
  if (!steps.every((step, at) => String(path[at]) === step)) return undefined
  const next = path[steps.length]
  if (next === undefined) return undefined
  const isId = part === 'key' && path.length === steps.length
  return isId ? undefined : [...steps, next]
}

/** The parts of a picture that is written as a group: its file and its alternative text. */
function withPictureParts({
  field,
  value,
  path,
  symbol,
}: WrittenField): { fields: WrittenField[]; group: WrittenGroup }[] {
  if (field.kind !== 'image' || !isGroup(value)) return []
  const alt: AnyField = {
    kind: 'text',
    options: { optional: true, description: 'The text that stands for the picture' },
  }
  const level: FieldLevel = {
    owner: symbol,
    names: [],
    fields: { file: { ...field, options: { ...field.options, optional: false } }, alt },
  }
  const file = { field, symbol, value: value.file, path: [...path, 'file'], hasKey: true }
  return [{ fields: [file], group: { level, path, group: value } }]
}
