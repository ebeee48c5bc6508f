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

/** Leaves out what is not to be seen, and reports what is seen and refers to it. */
export function selectPublished(
  collections: readonly LinkedCollection[],
  { instant, drafts }: Viewing,
): { published: readonly LinkedCollection[]; diagnostics: Diagnostic[] } {
  const hidden = new Map<string, string>()
  for (const { collection, entries } of collections)
    for (const entry of collection.publication ? entries : []) {
      const reason = whyUnpublished(entry, collection, instant)
      if (reason !== undefined) hidden.set(`${collection.name}/${entry.id}`, reason)
    }
  if (hidden.size === 0 || drafts) return { published: collections, diagnostics: [] }
  const isSeen = (entry: LinkedEntry): boolean => !hidden.has(`${entry.collection}/${entry.id}`)
  const published = collections.map(({ collection, entries }) => ({ collection, entries: entries.filter(isSeen) }))
  const diagnostics = published.flatMap(({ entries }) =>
    entries.flatMap((entry) =>
      entry.links.flatMap(({ collection, id, path }) => {
        const reason = hidden.get(`${collection}/${id}`)
        return reason === undefined
          ? []
          : [createDiagnostic('ref-unpublished', entry.locate(path), { id, collection, reason })]
      }),
    ),
  )
  return { published, diagnostics }
}
