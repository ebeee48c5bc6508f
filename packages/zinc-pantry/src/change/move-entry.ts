import picomatch from 'picomatch'
import { appendAll } from '../diagnostics/append-all.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import { entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import { ITEM_ID_KEY } from '../schema/compile-schema.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { typeCells } from '../validate/type-cells.ts'
import type { Attention, Change, ChangeStep, Refusal } from './change.ts'
import type { LinkedAfter } from './create-link-writer.ts'
import { editValue } from './edit-value.ts'
import { placeEntry } from './entry-place.ts'
import { findReferences, prefixOf } from './find-references.ts'
import { type KeyMap, mapKeys, withKeys } from './map-record.ts'
import { moveFiles, rewritePaths } from './move-files.ts'
import { refuseCollection, writeEntry } from './new-entry.ts'
import { removeDeclaration } from './remove-entry.ts'
import { renameKeys } from './rename-keys.ts'
import { createSources, type ReadOptionsOf, type SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { writeReference } from './write-reference.ts'

/** An entry that comes into another collection. */
export interface EntryMove {
  readonly collection: string
  readonly id: string
  readonly to: string
  /** Keys there by keys here; an empty one leaves it out. */
  readonly keys: ReadonlyMap<string, string>
}

/** Moves an entry, in all its languages, into another collection: its file or its record, and what refers and links to it. */
export function moveEntry(
  subject: ChangeSubject,
  { collection, id, to, keys }: EntryMove,
  {
    readOptionsOf,
    addressAfter,
  }: { readonly readOptionsOf: ReadOptionsOf; readonly addressAfter: LinkedAfter['addressAfter'] },
): Change | Refusal {
  const target = subject.collections.find((one) => one.collection.name === to)
  if (!target) return refuseCollection(subject, to)
  if (to === collection) return { refused: `${collection}/${id} is in ${to} already` }
  if (target.entries.some((entry) => entry.id === id)) return { refused: `${to} has an entry ${id} already` }
  const own = entriesOf(subject).filter((entry) => entry.collection === collection && entry.id === id)
  const sourceOf = createSources(subject, readOptionsOf)
  const moves = new Map<string, string>()
  const steps: ChangeStep[] = []
  for (const entry of own) {
    const moved = moveOne(subject, entry, {
      target: target.collection,
      entries: target.entries,
      keys,
      sourceOf,
      readOptionsOf,
    })
    if ('refused' in moved) return moved
    appendAll(steps, moved.steps)
    if (moved.file !== undefined) moves.set(entry.source.file, moved.file)
  }
  const isMoved = (one: { readonly collection: string; readonly id: string }): boolean =>
    one.collection === collection && one.id === id
  const after: LinkedAfter = {
    fileAfter: (file) => moves.get(file) ?? file,
    nameAfter: (page) => (isMoved(page) ? `${to}/${id}` : qualifiedId(page)),
    addressAfter,
  }
  const rewritten =
    moves.size > 0 ? moveFiles(subject, moves, { sourceOf, after }) : rewritePaths(subject, after, sourceOf)
  const led = leadPrefixes(subject, { isMoved, to })
  const words = `${collection}/${id} becomes ${to}/${id}`
  return {
    words,
    steps: [...rewritten.steps, ...steps, ...led.steps],
    attention: [...rewritten.attention, ...led.attention],
  }
}

interface Moving {
  readonly target: CollectionModel
  readonly entries: readonly LinkedEntry[]
  readonly keys: ReadonlyMap<string, string>
  readonly sourceOf: SourceOf
  readonly readOptionsOf: ReadOptionsOf
}

/** The steps for an entry itself; `file` is the path that its own file gets. */
function moveOne(
  subject: ChangeSubject,
  entry: LinkedEntry,
  { target, entries, keys, sourceOf, readOptionsOf }: Moving,
): { readonly steps: readonly ChangeStep[]; readonly file?: string } | Refusal {
  const { id, locale, recordPath, source: from } = entry
  const source = 'implicit' in from ? undefined : sourceOf(entry)
  const raw = source && valueAt(source.document.value, recordPath)
  const holder = subject.model.collections.find((one) => one.name === entry.collection)
  const form = holder && { ...holder.cells, blocks: subject.model.blocks }
  const record = source?.format.hasCells && form ? typeCells(raw, holder.fields, form) : raw
  if (!source || !isGroup(record)) return { refused: `${qualifiedId(entry)} does not come from a file` }
  const map = mapKeys(Object.keys(record), target, keys)
  if ('refused' in map) return map as Refusal
  const place = placeEntry(subject, { collection: target, entries, id, locale })
  if ('refused' in place) return place
  if (place.kind === 'file' && recordPath.length === 0) {
    const file = withEnding(place.file, from.file)
    const isRead = target.files.some((pattern) => picomatch(pattern, { dot: true })(file))
    if (!isRead) return { refused: `${target.name} does not read files such as ${file}` }
    if (subject.files.includes(file)) return { refused: `There is a file ${file} already` }
    return { steps: renameInFile(source, map as KeyMap), file }
  }
  const gone = removeDeclaration(entry, sourceOf)
  if (!gone)
    return { refused: `${qualifiedId(entry)} cannot be taken out of its file with certainty`, help: 'Move it by hand' }
  const body = entry.body && source.text.slice(entry.body.startOffset)
  if (body !== undefined && body.trim() !== '' && place.kind === 'records')
    return { refused: `${place.file} has no place for the body of ${qualifiedId(entry)}` }
  const { [ITEM_ID_KEY]: _, ...value } = withKeys(record, map as KeyMap)
  const isItem = place.kind === 'records' && place.holdsKeys !== true && target.id.by === 'name'
  const skeleton = {
    value: isItem ? { [ITEM_ID_KEY]: id, ...value } : value,
    comments: new Map<string, string>(),
    missing: [],
  }
  const written = writeEntry(subject, { collection: target, id, place, skeleton }, { body, readOptionsOf })
  return 'refused' in written ? written : { steps: [...gone, ...written] }
}

const withEnding = (path: string, other: string): string =>
  path.replace(/\.[^./]+$/, '') + other.slice(other.lastIndexOf('.'))

/** The edits of the keys of an entry in a file of its own. */
function renameInFile(source: NonNullable<ReturnType<SourceOf>>, map: KeyMap): readonly ChangeStep[] {
  const { file } = source
  return [...map].flatMap(([key, name]): ChangeStep[] => {
    if (name === key) return []
    const edits =
      name === undefined
        ? [editValue(source, [key], undefined, { isWhole: true })]
        : (renameKeys(source, [[key]], name) ?? [])
    const reason = name === undefined ? `${key} is left out` : `${key} is ${name}`
    return edits.flatMap((edit) => (edit ? [{ kind: 'edit', file, ...edit, reason } as const] : []))
  })
}

/** References that name the collection, where they may lead to several. */
function leadPrefixes(
  subject: ChangeSubject,
  { isMoved, to }: { isMoved(one: { readonly collection: string; readonly id: string }): boolean; readonly to: string },
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  for (const entry of entriesOf(subject))
    for (const placed of findReferences(entry, isMoved)) {
      const { reference, place, link } = placed
      const prefix = prefixOf(reference, link.collection)
      const text =
        prefix === '' || !reference.targets.includes(to) ? undefined : `${to}/${reference.text.slice(prefix.length)}`
      const written = text === undefined ? undefined : writeReference(subject, entry, { ...placed, text })
      if (written !== undefined)
        steps.push({ kind: 'edit', ...place, text: written, reason: `${qualifiedId(entry)} refers to ${text}` })
      else if (!reference.targets.includes(to) || prefix !== '')
        attention.push({ place, words: `${qualifiedId(entry)} refers to ${link.collection} only` })
    }
  return { steps, attention }
}
