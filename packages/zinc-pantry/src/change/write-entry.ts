import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import { byWrittenKey, isRest } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Change, Refusal } from './change.ts'
import { canonical } from './edit-value.ts'
import { difference } from './edit-values.ts'
import type { EditedSource } from './edited-source.ts'
import { rewriteRecord } from './rewrite-record.ts'

/** What an entry is to hold: what is left out stays as it is. */
export interface WantedContent {
  /** The record by the keys that it is written with; keys that it lacks go. */
  readonly record?: Readonly<Record<string, unknown>> | undefined
  /** The text below the front matter. */
  readonly body?: string | undefined
}

/** The record of an entry as it is written, cells of tables by their types. */
export function writtenRecord(
  entry: LinkedEntry,
  source: EditedSource,
  { collection, blocks }: { readonly collection: CollectionModel; readonly blocks: BlockFields },
): Readonly<Record<string, unknown>> {
  const raw = valueAt(source.document.value, entry.recordPath)
  const { cells, fields, value } = collection
  if (source.format.hasCells || cells.everywhere)
    return typeCells(raw, fields, { ...cells, blocks }) as Readonly<Record<string, unknown>>
  return isGroup(raw) ? raw : value === undefined || raw === null || raw === undefined ? {} : { [value]: raw }
}

/** Writes an entry: what differs of its record and of its body, and nothing else of its file. */
export function writeEntryContent(
  entry: LinkedEntry,
  source: EditedSource | undefined,
  {
    collection,
    model,
    wanted: { record, body },
  }: {
    readonly collection: CollectionModel
    readonly model: Pick<Model, 'blocks'>
    readonly wanted: WantedContent
  },
): Change | Refusal {
  const name = `${collection.name}/${entry.id}`
  if (!source) return { refused: `${name} cannot be written: its file cannot be read, or it comes from elsewhere` }
  const before = writtenRecord(entry, source, { collection, blocks: model.blocks })
  const idKey = idKeysOf(collection).find(
    (key) => record && canonical(record[key] ?? null) !== canonical(before[key] ?? null),
  )
  if (idKey !== undefined) return { refused: `${idKey} gives the id`, help: 'zinc-pantry rename changes it' }
  const raw = valueAt(source.document.value, entry.recordPath)
  const isSingle = !isGroup(raw) && raw !== null && raw !== undefined && collection.value !== undefined
  const unwrap = (value: Readonly<Record<string, unknown>>): unknown =>
    isSingle && collection.value !== undefined ? value[collection.value] : value
  const { source: rewritten, failed } = record
    ? rewriteRecord(source, {
        path: entry.recordPath,
        before: unwrap(before),
        after: unwrap(record),
        orderOf: createKeyOrder(collection.fields, model.blocks, record),
      })
    : { source, failed: [] }
  const start = entry.body?.startOffset
  if (body !== undefined && start === undefined) return { refused: `${name} has no body` }
  const head = start === undefined ? undefined : rewritten.text.length - (source.text.length - start)
  const text = body === undefined || head === undefined ? rewritten.text : rewritten.text.slice(0, head) + body
  const place = entry.locate([])
  const parts = [record && canonical(record) !== canonical(before) ? 'fields' : '', body === undefined ? '' : 'body']
  const reason = `${parts.filter((part) => part !== '').join(' and ') || 'nothing'} of ${name}`
  return {
    words: `${name} is written`,
    steps: text === source.text ? [] : [{ kind: 'edit', file: source.file, ...difference(source.text, text), reason }],
    attention: failed.map((path) => ({ place, words: `${path.join('.')} of ${name} has to be written by hand` })),
  }
}

/** Makes what gives the order of the keys of the groups of a record, as their fields are declared. */
function createKeyOrder(
  fields: Fields,
  blocks: BlockFields,
  record: Readonly<Record<string, unknown>>,
): (path: readonly PathSegment[]) => readonly string[] | undefined {
  const keysOf = (own: Fields): readonly string[] => [...byWrittenKey(mergedFields(own)).keys()]
  return (path) => {
    let level: Fields | undefined = fields
    let field: AnyField | undefined
    let value: unknown = record
    for (const step of path) {
      value = valueAt(value, [step])
      const item: AnyField | undefined = field && childrenOf(field).item
      field = item ?? (level && byWrittenKey(mergedFields(level)).get(String(step)))
      if (!field || isRest(field)) return undefined
      const { fields: inner, blocks: allowed } = childrenOf(field)
      const name = allowed && isGroup(value) ? String(value[allowed.key]) : undefined
      const ofBlock = name === undefined ? undefined : blocks.get(name)
      level = ofBlock && allowed ? { [allowed.key]: BLOCK_NAME, ...ofBlock } : inner
    }
    return level && keysOf(level)
  }
}

/** The key of a block comes first. */
const BLOCK_NAME: AnyField = { kind: 'text', options: {} }
