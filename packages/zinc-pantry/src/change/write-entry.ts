import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { BlockFields } from '../schema/kind.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { idKeysOf } from '../schema/naming-rule.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Change, Refusal } from './change.ts'
import { createKeyOrder } from './create-key-order.ts'
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
