import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'

/** When a site is seen, and how much of it. */
export interface Viewing {
  /** The moment, as an instant in UTC. Its first ten characters are the day. */
  readonly instant: string
  /** Also what is a draft, not yet or no longer to be seen. */
  readonly drafts: boolean
}

/** Why an entry is not to be seen, or undefined where it is. */
function whyUnpublished({ data }: LinkedEntry, { publication }: CollectionModel, instant: string): string | undefined {
  if (!publication || !data) return undefined
  const { draft, from, until } = publication
  const value = (name: string | undefined): unknown => (name === undefined ? null : (data[name] ?? null))
  if (value(draft) === true) return 'it is a draft'
  const [start, end] = [value(from), value(until)]
  if (typeof start === 'string' && compareMoments(instant, start) < 0) return `it starts on ${start}`
  if (typeof end === 'string' && compareMoments(instant, end) > 0) return `it ended on ${end}`
  return undefined
}

/** Whether an instant is before, within or after a date or an instant. */
function compareMoments(instant: string, moment: string): number {
  const comparable = instant.slice(0, moment.length === 10 ? 10 : undefined)
  return comparable < moment ? -1 : comparable > moment ? 1 : 0
}

/** All dates and instants at which something begins or ends to be seen. */
export function listMoments(collections: readonly LinkedCollection[]): string[] {
  const moments = collections.flatMap(({ collection: { publication }, entries }) =>
    [publication?.from, publication?.until].flatMap((name) =>
      name === undefined ? [] : entries.map(({ data }) => data?.[name]),
    ),
  )
  return [...new Set(moments)].filter((moment) => typeof moment === 'string').sort()
}

/** True where the same is to be seen at two instants. */
export const isSameView = (moments: readonly string[], one: string, other: string): boolean =>
  moments.every((moment) => compareMoments(one, moment) === compareMoments(other, moment))

/** Says why an entry that another one leads to cannot be seen from there; undefined where it can. */
export type Hiding = (target: Pick<LinkedEntry, 'collection' | 'id'>, from: LinkedEntry) => string | undefined

/** Finds what is not to be seen, language by language, and reports references from what is seen that lead to it. */
export function findUnpublished(
  collections: readonly LinkedCollection[],
  { instant, drafts, locales }: Viewing & { readonly locales: readonly string[] },
): { hidden: ReadonlyMap<LinkedEntry, string>; whyHidden: Hiding; diagnostics: Diagnostic[] } {
  const hidden = new Map<LinkedEntry, string>()
  if (!drafts)
    for (const { collection, entries } of collections)
      for (const entry of collection.publication ? entries : []) {
        const reason = whyUnpublished(entry, collection, instant)
        if (reason !== undefined) hidden.set(entry, reason)
      }
  if (hidden.size === 0) return { hidden, whyHidden: () => undefined, diagnostics: [] }
  const whyHidden = createHiding(collections, hidden, locales)
  const diagnostics = collections.flatMap(({ entries }) =>
    entries.flatMap((entry) => {
      if (hidden.has(entry)) return []
      return entry.links.flatMap(({ collection, id, path }) => {
        const reason = whyHidden({ collection, id }, entry)
        return reason === undefined
          ? []
          : [createDiagnostic('ref-unpublished', entry.locate(path), { id, collection, reason })]
      })
    }),
  )
  return { hidden, whyHidden, diagnostics }
}

/** An entry can be seen from another one in its language, or else in the first, which stands in for all. */
function createHiding(
  collections: readonly LinkedCollection[],
  hidden: ReadonlyMap<LinkedEntry, string>,
  locales: readonly string[],
): Hiding {
  const key = ({ collection, id }: Pick<LinkedEntry, 'collection' | 'id'>): string => `${collection}/${id}`
  const concerned = new Set([...hidden.keys()].map(key))
  const versions = new Map<string, LinkedEntry[]>()
  for (const { entries } of collections)
    for (const entry of entries)
      if (concerned.has(key(entry))) versions.set(key(entry), [...(versions.get(key(entry)) ?? []), entry])
  return (target, { locale }) => {
    const all = versions.get(key(target)) ?? []
    const wanted =
      locale === undefined ? all : all.filter((one) => [undefined, locale, locales[0]].includes(one.locale))
    const reachable = wanted.length > 0 ? wanted : all
    return reachable.every((one) => hidden.has(one)) ? hidden.get(reachable[0] as LinkedEntry) : undefined
  }
}
