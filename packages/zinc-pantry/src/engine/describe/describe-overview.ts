import { groupBy } from '../../diagnostics/group-by.ts'
import { whyUnpublished } from '../../link/publication.ts'
import type { CollectionModel } from '../../schema/model.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { describeHead, type HeadView } from './describe-head.ts'
import type { SiteView } from './site-view.ts'

/** A collection in a line. */
export interface CollectionCount {
  readonly name: string
  readonly description?: string
  readonly section?: string
  readonly files: readonly string[]
  readonly isForeign: boolean
  readonly isSingle: boolean
  /** Entries, each once however many languages it has. */
  readonly count: number
  /** Entries that are drafts, or not yet or no longer to be seen. */
  readonly hidden: number
  readonly errors: number
  readonly warnings: number
  /** Of each language the entries that it lacks. */
  readonly missing: readonly { readonly locale: string; readonly count: number }[]
  /** The last change of a file of it, where version control or the file itself knows. */
  readonly changed?: string
}

/** A site at a glance. */
export interface OverviewView {
  readonly collections: readonly CollectionCount[]
  readonly locales: readonly string[]
  readonly fileCount: number
  /** Files of the content that no collection reads, such as pictures. */
  readonly otherFiles: number
  /** Entries whose files changed last. */
  readonly recent: readonly (HeadView & { readonly changed: string })[]
}

/** The number of entries that are told as changed last. */
const MOST_RECENT = 8

/** Describes a site at a glance; `changedAt` gives the moment a file of the content changed last. */
export function describeOverview(view: SiteView, changedAt: (file: string) => string | undefined): OverviewView {
  const { model, site } = view
  const { report } = site
  const times = new Map<string, string | undefined>()
  const timeOf = (entry: LinkedEntry): string | undefined => {
    const { file } = entry.source
    if (!times.has(file)) times.set(file, changedAt(`${model.content}/${file}`))
    return times.get(file)
  }
  const problems = groupBy(report.diagnostics, (one) => view.ownerOf(one)?.collection ?? one.collection ?? '')
  const collections = model.collections.map((collection): CollectionCount => {
    const { name, description, section, files, source, single } = collection
    const entries = view.entriesIn(name)
    const own = problems.get(name) ?? []
    const changed = entries.reduce<string | undefined>((last, entry) => {
      const time = source ? undefined : timeOf(entry)
      return time !== undefined && (last === undefined || time > last) ? time : last
    }, undefined)
    return {
      ...{ name, files, isForeign: source !== undefined, isSingle: single },
      ...(description === undefined ? {} : { description }),
      ...(section === undefined ? {} : { section }),
      count: new Set(entries.map(({ id }) => id)).size,
      hidden: entries.filter((entry) => whyUnpublished(entry, collection, view.instant) !== undefined).length,
      errors: own.filter(({ severity }) => severity === 'error').length,
      warnings: own.filter(({ severity }) => severity === 'warning').length,
      missing: countMissing(collection, entries, model.locales),
      ...(changed === undefined ? {} : { changed }),
    }
  })
  const dated = view.entries.flatMap((entry) => {
    const changed = entry.source.implicit || view.collectionOf(entry.collection)?.source ? undefined : timeOf(entry)
    return changed === undefined || entry.recordPath.length > 0 ? [] : [{ entry, changed }]
  })
  const recent = dated
    .sort((a, b) => (a.changed < b.changed ? 1 : a.changed > b.changed ? -1 : 0))
    .slice(0, MOST_RECENT)
  return {
    collections,
    locales: model.locales,
    fileCount: report.fileCount,
    otherFiles: report.unmatchedCount,
    recent: recent.map(({ entry, changed }) => ({ ...describeHead(entry, view), changed })),
  }
}

function countMissing(
  { locales: isTranslated }: CollectionModel,
  entries: readonly LinkedEntry[],
  locales: readonly string[],
): CollectionCount['missing'] {
  if (isTranslated === undefined) return []
  const ids = new Set(entries.map(({ id }) => id))
  return locales.map((locale) => {
    const there = new Set(entries.flatMap((entry) => (entry.locale === locale ? [entry.id] : [])))
    return { locale, count: ids.size - there.size }
  })
}
