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
  const moment = (text: string): string => instant.slice(0, text.length === 10 ? 10 : undefined)
  if (value(draft) === true) return 'it is a draft'
  const [start, end] = [value(from), value(until)]
  if (typeof start === 'string' && moment(start) < start) return `it starts on ${start}`
  if (typeof end === 'string' && moment(end) > end) return `it ended on ${end}`
  return undefined
}

/** Leaves out what is not to be seen, and reports what is seen and refers to it. */
export function selectPublished(
  collections: readonly LinkedCollection[],
  { instant, drafts }: Viewing,
): { published: readonly LinkedCollection[]; diagnostics: Diagnostic[] } {
  const hidden = new Map<string, string>()
  for (const { collection, entries } of collections)
    for (const entry of entries) {
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
