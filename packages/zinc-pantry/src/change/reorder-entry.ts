import { addTo } from '../diagnostics/add-to.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { CollectionModel } from '../schema/model.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { arrangeItems } from './arrange-items.ts'
import { assignRanks } from './assign-ranks.ts'
import type { Attention, Change, ChangeStep, Refusal } from './change.ts'
import { difference } from './edit-values.ts'
import type { EditedSource } from './edited-source.ts'
import { moveFiles, type Rewritten } from './move-files.ts'
import { refuseCollection } from './new-entry.ts'
import { placeBeside, type Reordering } from './place-beside.ts'
import { renumberFiles } from './renumber-files.ts'
import { createSources, type ReadOptionsOf, type SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { type PlannedValue, writeValues } from './write-values.ts'

/** What says the order of the entries of a collection, where a person can put them into another. */
export type ManualOrder =
  /** Numbers in front of the names of files. */
  | { readonly kind: 'numbers' }
  /** The places of records in their file. */
  | { readonly kind: 'records' }
  /** A number that is written in each. */
  | { readonly kind: 'field'; readonly field: string; readonly direction: 'ascending' | 'descending' }

/** What a person changes to put entries into another order; a refusal where they cannot be. */
export function manualOrderOf(collection: CollectionModel, entries: readonly LinkedEntry[]): ManualOrder | Refusal {
  const { name, order, numbered, fields, derived, source } = collection
  const [first] = order
  if (source !== undefined) return { refused: `${name} comes from elsewhere` }
  if (first) {
    const { field, direction } = first
    const kind = Object.hasOwn(derived, field) ? undefined : fields[field]?.kind
    if (kind === 'int' || kind === 'number') return { kind: 'field', field, direction }
    return { refused: `The order of ${name} is by ${field}`, help: `Change ${field}, or order of ${name}` }
  }
  if (numbered) return { kind: 'numbers' }
  if (entries.length > 0 && entries.every(({ recordPath }) => typeof recordPath.at(-1) === 'number'))
    return { kind: 'records' }
  return {
    refused: `Nothing says the order of ${name}: it is that of the names of its files`,
    help: `Say numbered: true in ${name} and number the files, or name a field in order`,
  }
}

/** Puts an entry, in all its languages, before or after another of its collection. */
export function reorderEntry(
  subject: ChangeSubject,
  reordering: Reordering,
  readOptionsOf: ReadOptionsOf,
): Change | Refusal {
  const { collection: name, id, neighbour, side } = reordering
  const found = subject.collections.find((one) => one.collection.name === name)
  if (!found) return refuseCollection(subject, name)
  const { collection, entries } = found
  const by = manualOrderOf(collection, entries)
  if ('refused' in by) return by
  if (id === neighbour) return { refused: 'An entry cannot stand beside itself' }
  const sourceOf = createSources(subject, readOptionsOf)
  const made = ((): Rewritten | Refusal => {
    switch (by.kind) {
      case 'field':
        return rankValues(entries, { reordering, collection, by, sourceOf })
      case 'records':
        return arrangeRecords(entries, reordering, sourceOf)
      case 'numbers': {
        const numbered = renumberFiles(subject, entries, reordering)
        return 'refused' in numbered ? numbered : moveFiles(subject, numbered.moves, { sourceOf })
      }
    }
  })()
  return 'refused' in made ? made : { words: `${name}/${id} comes ${side} ${name}/${neighbour}`, ...made }
}

interface Ranking {
  readonly reordering: Reordering
  readonly collection: CollectionModel
  readonly by: Extract<ManualOrder, { kind: 'field' }>
  readonly sourceOf: SourceOf
}

/** Other values for the number that gives the order. */
function rankValues(
  entries: readonly LinkedEntry[],
  { reordering, collection, by: { field: name, direction }, sourceOf }: Ranking,
): Rewritten {
  const ranks = new Map<string, number | undefined>()
  for (const { id, data } of entries) if (!ranks.has(id)) ranks.set(id, (data?.[name] as number | null) ?? undefined)
  const wanted = placeBeside([...ranks.keys()], reordering).map((key) => ({ key, rank: ranks.get(key) }))
  const field = collection.fields[name]
  const isWhole = field?.kind === 'int'
  const fresh = assignRanks(direction === 'descending' ? wanted.toReversed() : wanted, reordering.id, { isWhole })
  const key = field ? writtenKey(name, field) : name
  const changes = new Map<EditedSource, PlannedValue[]>()
  const attention: Attention[] = []
  for (const entry of entries) {
    const value = fresh.get(entry.id)
    if (value === undefined) continue
    const source = sourceOf(entry)
    const words = `${name} of ${collection.name}/${entry.id}`
    const byHand = { place: entry.locate([]), words: `${words} has to be written by hand` }
    const path = [...entry.recordPath, key]
    if (!source) attention.push(byHand)
    // A version in another language that leaves it to the first goes on doing so.
    else if (entry.locale === entries[0]?.locale || valueAt(source.document.value, path) !== undefined)
      addTo(changes, source, { path, value, reason: `${words} becomes ${value}`, byHand })
  }
  const written = writeValues(changes)
  return { steps: written.steps, attention: [...attention, ...written.attention] }
}

/** Another order of the records of each file that holds both. */
function arrangeRecords(
  entries: readonly LinkedEntry[],
  reordering: Reordering,
  sourceOf: SourceOf,
): Rewritten | Refusal {
  const { collection, id, neighbour } = reordering
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const lists = groupBy(entries, (entry) => JSON.stringify([entry.locate([]).file, entry.recordPath.slice(0, -1)]))
  let isTogether = false
  for (const own of lists.values()) {
    const [first] = own
    const ids = own.map((entry) => entry.id)
    if (!first || !ids.includes(id) || !ids.includes(neighbour)) continue
    isTogether = true
    const source = sourceOf(first)
    const path = first.recordPath.slice(0, -1)
    const list = source && valueAt(source.document.value, path)
    // Items that are no entries, as those with an error, stay where they are among the others.
    const places = own.map(({ recordPath }) => Number(recordPath.at(-1)))
    const placeOf = new Map(ids.map((one, at) => [one, places[at] as number]))
    const wanted = placeBeside(ids, reordering).map((one) => placeOf.get(one) as number)
    const wantedAt = new Map(places.toSorted((a, b) => a - b).map((place, at) => [place, wanted[at] as number]))
    const order = Array.isArray(list) ? list.map((_, at) => wantedAt.get(at) ?? at) : []
    const after = source && arrangeItems(source, path, order)
    const { file } = first.locate([])
    const reason = `${collection}/${id} has another place`
    if (after) steps.push({ kind: 'edit', file, ...difference(source.text, after.text), reason })
    else attention.push({ place: first.locate([]), words: `${collection}/${id} has to be put there by hand` })
  }
  if (!isTogether) return { refused: `${id} and ${neighbour} stand in different files` }
  return { steps, attention }
}
