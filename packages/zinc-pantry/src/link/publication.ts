import { addTo } from '../diagnostics/add-to.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { Step } from '../schema/check-run.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entry.ts'
import { qualifiedId, versionKey } from './pages.ts'
import { replaceValues } from './replace-values.ts'

/** When a site is seen, and how much of it. */
export interface Viewing {
  /** The moment, as an instant in UTC. Its first ten characters are the day. */
  readonly instant: string
  /** Also what is a draft, not yet or no longer to be seen. */
  readonly drafts: boolean
}

/** Why an entry is not to be seen, or undefined where it is. */
export function whyUnpublished(
  { data }: LinkedEntry,
  { publication }: CollectionModel,
  instant: string,
): string | undefined {
  if (!publication || !data) return undefined
  const { draft, from, until } = publication
  const value = (name: string | undefined): unknown => (name === undefined ? null : (data[name] ?? null))
  if (value(draft) === true) return 'it is a draft'
  const [start, end] = [value(from), value(until)]
  if (typeof start === 'string' && compareWithBoundary(instant, start) < 0) return `it starts on ${start}`
  if (typeof end === 'string' && compareWithBoundary(instant, end) > 0) return `it ended on ${end}`
  return undefined
}

/** Whether an instant is before, within or after a date or an instant. */
function compareWithBoundary(instant: string, moment: string): number {
  const comparable = instant.slice(0, moment.length === 10 ? 10 : undefined)
  return comparable < moment ? -1 : comparable > moment ? 1 : 0
}

/** All dates and instants at which something begins or ends to be seen. */
export function listBoundaries(collections: readonly LinkedCollection[]): string[] {
  const boundaries = collections.flatMap(({ collection: { publication }, entries }) =>
    [publication?.from, publication?.until].flatMap((name) =>
      name === undefined ? [] : entries.map(({ data }) => data?.[name]),
    ),
  )
  return [...new Set(boundaries)].filter((moment) => typeof moment === 'string').sort()
}

/** True where the same is to be seen at two instants. */
export const isSameView = (boundaries: readonly string[], one: string, other: string): boolean =>
  boundaries.every((moment) => compareWithBoundary(one, moment) === compareWithBoundary(other, moment))

/** Why what is not to be seen is not, by {@link versionKey}. */
export type Hidden = ReadonlyMap<string, string>

/** The paths of references, by {@link versionKey} of their entries, that lead to what is not to be seen. */
export type BlockedReferences = ReadonlyMap<string, readonly (readonly Step[])[]>

const ONLY_HIDDEN = 'only drafts or private fields name it'

/** Finds what is not to be seen, language by language, and reports references from what is seen that lead to it. */
export function findUnpublished(
  collections: readonly LinkedCollection[],
  { instant, drafts, locales }: Viewing & { readonly locales: readonly string[] },
): { hidden: Hidden; blocked: BlockedReferences; diagnostics: Diagnostic[] } {
  const hidden = new Map<string, string>()
  if (!drafts)
    for (const { collection, entries } of collections)
      for (const entry of collection.publication ? entries : []) {
        const reason = whyUnpublished(entry, collection, instant)
        if (reason !== undefined) hidden.set(versionKey(entry), reason)
      }
  const blocked = new Map<string, (readonly Step[])[]>()
  // Mostly there is nothing to hide, which should not take a look at every entry.
  if (hidden.size === 0 && !collections.some(({ collection }) => collection.createFrom !== undefined))
    return { hidden, blocked, diagnostics: [] }
  const shown = collections.flatMap(({ entries }) => entries.filter((entry) => !hidden.has(versionKey(entry))))
  for (const entry of findUnnamed(collections, shown)) hidden.set(versionKey(entry), ONLY_HIDDEN)
  if (hidden.size === 0) return { hidden, blocked, diagnostics: [] }
  const whyHidden = createHiding(collections, hidden, locales)
  const diagnostics = shown.flatMap((entry) =>
    entry.links.flatMap(({ collection, id, path }) => {
      const reason = whyHidden({ collection, id }, entry)
      if (reason === undefined || reason === ONLY_HIDDEN) return []
      addTo(blocked, versionKey(entry), path)
      return [createDiagnostic('ref-unpublished', entry.locate(path), { id, collection, reason })]
    }),
  )
  return { hidden, blocked, diagnostics }
}

/** The entries that are to be seen, without references to those that are not. */
export const withoutHidden = (
  collections: readonly LinkedCollection[],
  { hidden, blocked }: { readonly hidden: Hidden; readonly blocked: BlockedReferences },
): LinkedCollection[] =>
  collections.map(({ collection, entries }) => ({
    collection,
    entries: entries
      .filter((entry) => !hidden.has(versionKey(entry)))
      .map((entry) => {
        const paths = blocked.get(versionKey(entry))
        if (!paths) return entry
        const cleared = new Set(paths)
        const links = entry.links.filter(({ path }) => !cleared.has(path))
        return replaceValues(
          { ...entry, links },
          paths.map((path) => [path, null] as const),
        )
      }),
  }))

/** Entries that references made, but none that is to be seen. */
function findUnnamed(collections: readonly LinkedCollection[], shown: readonly LinkedEntry[]): LinkedEntry[] {
  const implicit = collections.flatMap(({ entries }) => entries.filter(({ source }) => source.implicit))
  if (implicit.length === 0) return []
  const named = new Set<string>()
  for (const { links } of shown)
    for (const { collection, id, isPrivate } of links)
      if (!isPrivate) named.add(versionKey({ collection, id, locale: undefined }))
  return implicit.filter((entry) => !named.has(versionKey(entry)))
}

/**
 * Makes what says why an entry cannot be seen from another one. It can in the language of the other, or else in the
 * first, which stands in for all.
 */
function createHiding(
  collections: readonly LinkedCollection[],
  hidden: Hidden,
  locales: readonly string[],
): (target: Pick<LinkedEntry, 'collection' | 'id'>, from: LinkedEntry) => string | undefined {
  const names = new Set([...hidden.keys()].map((key) => key.slice(0, key.lastIndexOf('\n'))))
  const versions = new Map<string, LinkedEntry[]>()
  for (const { entries } of collections)
    for (const entry of entries) {
      const name = qualifiedId(entry)
      if (names.has(name)) addTo(versions, name, entry)
    }
  return (target, { locale }) => {
    const all = versions.get(qualifiedId(target)) ?? []
    const wanted =
      locale === undefined ? all : all.filter((one) => [undefined, locale, locales[0]].includes(one.locale))
    const reasons = (wanted.length > 0 ? wanted : all).map((one) => hidden.get(versionKey(one)))
    return reasons.includes(undefined) ? undefined : reasons[0]
  }
}
