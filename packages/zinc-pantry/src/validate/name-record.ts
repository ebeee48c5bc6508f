import { describeValue } from '../diagnostics/words.ts'
import type { PathSegment } from '../read/document.ts'
import type { CheckRun } from '../schema/check-run.ts'
import { ITEM_ID_KEY } from '../schema/compile-schema.ts'
import type { FileSettings } from '../schema/model.ts'
import { slugOf, whySlugUnfit } from '../schema/slug.ts'
import type { Transliterator } from '../schema/transliterator.ts'
import { byWrittenKey, writtenKey } from '../schema/written-key.ts'
import type { EntryRecord } from './split-records.ts'

/** The name of an entry, or the reason why it has none, which the caller has to report. */
type Naming =
  | { readonly text: string; readonly path: readonly PathSegment[] }
  | { readonly missing: string }
  | { readonly invalid: string; readonly path: readonly PathSegment[] }

/** The surroundings of the naming of a record. */
interface NamingContext {
  readonly collection: FileSettings
  readonly pathId: string | undefined
  readonly positionPrefix: string
  readonly transliterate: Transliterator
}

/** True for an item of a list of entries, which neither a file nor a key names. */
export const isItem = ({ key, path }: EntryRecord): boolean => key === undefined && path.length > 0

/** A record that is a single value as a group of one field, where the collection says which. */
export function asGroup(value: unknown, { fields, value: name }: FileSettings): unknown {
  if (name === undefined || value === null || typeof value === 'object') return value
  const field = fields[name]
  return { [field ? writtenKey(name, field) : name]: value }
}

/** Reads the id of a record. */
export function readId(record: EntryRecord, context: NamingContext, run: CheckRun): Naming {
  const { pathId, collection, positionPrefix } = context
  const { id } = collection
  if (id.by === 'keys') return readKeys(id.keys, record.value as object, { collection, run })
  if (!isItem(record)) {
    const text = record.key ?? pathId ?? ''
    return text === '' ? { invalid: 'empty text', path: [] } : { text, path: [] }
  }
  if (id.by === 'name') return readKeys([ITEM_ID_KEY], record.value as object, { collection, run })
  return { text: `${positionPrefix}${Number(record.path.at(-1)) + 1}`, path: [] }
}

function readKeys(
  keys: readonly string[],
  record: object,
  { collection, run }: { readonly collection: FileSettings; readonly run: CheckRun },
): Naming {
  const texts: string[] = []
  for (const key of keys) {
    const value = valueOfKey(record, key, collection)
    if (value === undefined) return { missing: key }
    run.path.push(key)
    const text = typeof value === 'number' ? run.written(value) : value
    run.path.pop()
    if (typeof text !== 'string' || text === '')
      return { invalid: text === '' ? 'empty text' : describeValue(value), path: [key] }
    texts.push(text)
  }
  return { text: texts.join('-'), path: keys.slice(0, 1) }
}

/** The value of a key that names an entry: as it is written, or else the default of the field that is read from it. */
function valueOfKey(record: object, key: string, { fields }: FileSettings): unknown {
  const written = Object.hasOwn(record, key) ? (record as Record<string, unknown>)[key] : undefined
  if (written !== undefined && written !== null) return written
  return byWrittenKey(fields).get(key)?.options.default
}

/** A record that a slug is made of. */
interface Slugged {
  readonly value: object
  readonly data: Readonly<Record<string, unknown>> | undefined
  readonly id: { readonly text: string; readonly path: readonly PathSegment[] }
}

/** The slug of an entry, the place of what it was made of, and why it is not fit, if it is not. */
interface Slug {
  readonly slug: string
  readonly slugPath: readonly PathSegment[]
  readonly reason?: string | undefined
}

/** Reads or makes the slug of a record. */
export function readSlug({ value, data, id }: Slugged, context: NamingContext, run: CheckRun): Slug {
  const { collection, transliterate } = context
  const rule = collection.slug
  if (rule.by === 'none') return { slug: id.text, slugPath: id.path }
  if (rule.by === 'function' && data) {
    const made = callSlug(rule.from as (entry: unknown) => unknown, data)
    return { slug: slugOf(id.text), slugPath: [], ...made }
  }
  const key = rule.by === 'key' ? rule.key : undefined
  const own = key === undefined ? undefined : valueOfKey(value, key, collection)
  if (key !== undefined && own !== undefined) {
    if (typeof own === 'string' && own !== '') return withReason(slugOf(transliterate(own)), [key])
    run.path.push(key)
    run.report('value-type', { seen: own === '' ? 'empty text' : describeValue(own), expected: 'text for the slug' })
    run.path.pop()
  }
  return withReason(slugOf(id.text), id.path)
}

const withReason = (slug: string, slugPath: readonly PathSegment[]): Slug => ({
  slug,
  slugPath,
  reason: whySlugUnfit(slug),
})

function callSlug(from: (entry: unknown) => unknown, data: object): Partial<Pick<Slug, 'slug' | 'reason'>> {
  try {
    const slug = from(Object.freeze({ ...data }))
    if (typeof slug === 'string' && slug !== '') return { slug, reason: whySlugUnfit(slug) }
    return { reason: `the function gave ${slug === '' ? 'empty text' : describeValue(slug)}` }
  } catch (error) {
    return { reason: `the function failed: ${error instanceof Error ? error.message : String(error)}` }
  }
}
