import { entriesOf } from '../link/linked-entries.ts'
import { formatOf } from '../read/formats.ts'
import { ITEM_ID_KEY } from '../schema/compile-schema.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { CollectionModel } from '../schema/model.ts'
import { slugOf } from '../schema/slug.ts'
import { writtenKey } from '../schema/written-key.ts'
import { appendRecords } from './append-records.ts'
import type { ChangeStep, Refusal } from './change.ts'
import { type EntryPlace, placeEntry } from './entry-place.ts'
import { refuseName } from './refuse-name.ts'
import { createSkeleton, type Skeleton } from './skeleton.ts'
import { openSource, type ReadOptionsOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { type Layout, writeDocument } from './write-record.ts'

/** An entry that is wanted. */
export interface WantedEntry {
  readonly collection: string
  /** What people call it, or its id. Default: none, for what has its id by its position. */
  readonly name: string | undefined
  /** Values by their keys, as they are written. */
  readonly given: Readonly<Record<string, unknown>>
  /** The values of another entry, which stand where none are given. Default: none. */
  readonly like?: Readonly<Record<string, unknown>> | undefined
  readonly locale?: string | undefined
  /** The file that it is to stand in, relative to the content folder. */
  readonly into?: string | undefined
  /** The text of the body. Default: none. */
  readonly body?: string | undefined
  /** The present moment, as an instant in UTC. */
  readonly now: string
  transliterate(text: string): string
}

/** An entry that is not there yet: where it comes to stand, and what it holds. */
export interface PlannedEntry {
  readonly collection: CollectionModel
  readonly id: string | undefined
  readonly place: EntryPlace
  readonly skeleton: Skeleton
}

/** Plans an entry: its place and its values, without those that nobody gave. */
export function planEntry(subject: ChangeSubject, wanted: WantedEntry): PlannedEntry | Refusal {
  const found = subject.collections.find((one) => one.collection.name === wanted.collection)
  if (!found) return refuseCollection(subject, wanted.collection)
  const { collection, entries } = found
  const { name, locale, into, transliterate } = wanted
  if (collection.single && entries.length > 0) return { refused: `${collection.name} has exactly one entry` }
  const plain = name === undefined ? undefined : idFrom(name, transliterate)
  const id = idOf(collection, wanted.given, plain)
  const others = entries.filter((entry) => entry.locale === undefined || entry.locale === locale)
  if (id !== undefined && others.some((entry) => entry.id === id))
    return { refused: `${collection.name} has an entry ${id} already` }
  const place = placeEntry(subject, { collection, entries, id, locale, into })
  if ('refused' in place) return place
  const given = withName(collection, { given: wanted.given, like: wanted.like ?? {}, name, plain, place })
  const listTargets = (target: string): string => listIds(subject, target)
  const today = localDay(wanted.now)
  const hasCells = formatOf(place.file, subject.model.endings)?.hasCells === true
  const skeleton = createSkeleton(collection.fields, {
    given,
    today,
    now: `${wanted.now.slice(0, 16)}:00Z`,
    hasCells,
    listTargets,
  })
  return { collection, id, place, skeleton }
}

/** Why there is no collection of a name. */
export function refuseCollection({ model }: Pick<ChangeSubject, 'model'>, name: string): Refusal {
  const known = model.collections.map((one) => one.name)
  return refuseName(`There is no collection "${name}"`, name, known)
}

/** The id that a name gives: what could be one as it is stays. */
function idFrom(name: string, transliterate: (text: string) => string): string {
  return /^[\p{Ll}\p{N}._~+/-]+$/u.test(name) ? name : slugOf(transliterate(name))
}

/** The id that an entry will have, as far as that is known: by a key that is given, or by its name. */
function idOf(
  { id: rule }: CollectionModel,
  given: Readonly<Record<string, unknown>>,
  plain: string | undefined,
): string | undefined {
  if (rule.by === 'position') return undefined
  if (rule.by === 'name') return plain
  const values = rule.keys.map((key) => given[key] ?? (rule.keys.length === 1 ? plain : undefined))
  return values.some((value) => value === undefined) ? undefined : values.join('-')
}

/** The day of a moment, where the machine stands. */
function localDay(now: string): string {
  const date = new Date(now)
  const two = (part: number): string => String(part).padStart(2, '0')
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
}

const MOST_IDS = 8

/** What may stand where a reference to a collection is. */
function listIds(subject: ChangeSubject, target: string): string {
  const ids = entriesOf(subject).flatMap(({ collection, id }) => (collection === target ? [id] : []))
  const known = [...new Set(ids)]
  return known.length <= MOST_IDS ? known.join(', ') : `the id of one of ${known.length} in ${target}`
}

interface Naming {
  readonly given: Readonly<Record<string, unknown>>
  readonly like: Readonly<Record<string, unknown>>
  readonly name: string | undefined
  /** The id that its name gives. */
  readonly plain: string | undefined
  readonly place: EntryPlace
}

/** The values of an entry with its name, and with its id where that is written. */
function withName(
  { fields, id: rule }: CollectionModel,
  { given, like, name, plain, place }: Naming,
): Readonly<Record<string, unknown>> {
  if (name === undefined || plain === undefined) return { ...like, ...given }
  const label = labelKey(fields)
  const called =
    label === undefined ? {} : { [label]: name === plain ? humanize(plain) : name.slice(name.lastIndexOf('/') + 1) }
  const isItem = place.kind === 'records' && place.holdsKeys !== true && rule.by === 'name'
  const [key = ITEM_ID_KEY, ...others] = rule.by === 'keys' ? rule.keys : []
  const named = (rule.by === 'keys' && others.length === 0) || isItem ? { [key]: plain } : {}
  return { ...named, ...like, ...called, ...named, ...given }
}

/** The key of the field that people know an entry by: a text that is called so, or the first that must be there. */
export function labelKey(fields: Fields): string | undefined {
  const texts = Object.entries(mergedFields(fields)).filter(([, field]) => field.kind === 'text')
  const called = ['title', 'name', 'label', 'heading'].map((name) => texts.find(([own]) => own === name))
  const first = texts.find(([, { options }]) => options.optional !== true && options.default === undefined)
  const found = called.find((one) => one !== undefined) ?? first
  return found && writtenKey(...found)
}

/** What people would call an id: `crag-hut` is Crag hut. */
function humanize(id: string): string {
  const words = id.slice(id.lastIndexOf('/') + 1).replaceAll(/[-_]+/g, ' ')
  return words.charAt(0).toUpperCase() + words.slice(1)
}

/** The steps that write a planned entry. */
export function writeEntry(
  subject: ChangeSubject,
  { collection, place, skeleton, id }: PlannedEntry,
  { body, readOptionsOf }: { readonly body: string | undefined; readonly readOptionsOf: ReadOptionsOf },
): readonly ChangeStep[] | Refusal {
  const { model } = subject
  const file = `${model.content}/${place.file}`
  const format = formatOf(file, model.endings)
  if (!format) return { refused: `No format is known for ${place.file}` }
  const reason = `${collection.name}/${id ?? ''} is new`.replace('/ ', ' ')
  if (place.kind === 'records' && subject.files.includes(place.file)) {
    const source = openSource(subject, file, { collection, readOptionsOf })
    const key = place.holdsKeys === true ? id : undefined
    const edit = source && appendRecords(source, place.path, [{ ...skeleton, key }])
    if (edit) return [{ kind: 'edit', file, ...edit, reason }]
    return { refused: `A record cannot be added to ${place.file} with certainty`, help: 'Add it by hand' }
  }
  const layout = layoutOf(subject, collection)
  const hasBody = collection.body !== undefined && !format.canHoldMany
  const isMany = place.kind === 'records'
  if (isMany && (format.hasCells || format.name === 'jsonl' || place.path.length > 0))
    return {
      refused: `There is no file ${place.file} yet`,
      help: 'Make it with the headings or the place of its records',
    }
  const text = isMany
    ? writeDocument({ value: { [id ?? '']: skeleton.value }, comments: below(id ?? '', skeleton) }, format.name, layout)
    : writeDocument(skeleton, format.name, layout, hasBody)
  return [{ kind: 'make', file, text: body === undefined ? text : withBody(text, body), reason }]
}

/** One empty line before the body is enough. */
const withBody = (head: string, body: string): string =>
  /^\r?\n/.test(body) ? head.replace(/(\n)\r?\n$/, '$1') + body : head + body

const below = (id: string, { comments }: Skeleton): ReadonlyMap<string, string> =>
  new Map([...comments].map(([path, words]) => [`${id}.${path}`, words]))

/** The line ends and the indentation of others of a collection. */
function layoutOf({ textOf, collections, model }: ChangeSubject, { name }: CollectionModel): Layout {
  const other = collections
    .find((one) => one.collection.name === name)
    ?.entries.find(({ source }) => !('implicit' in source))
  const text = (other && textOf(`${model.content}/${other.source.file}`)) ?? ''
  return { lineEnd: text.includes('\r\n') ? '\r\n' : '\n', indent: /^[ \t]+(?=\S)/m.exec(text)?.[0] ?? '  ' }
}
