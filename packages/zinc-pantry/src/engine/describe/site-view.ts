import type { EditedSource } from '../../change/edited-source.ts'
import { type EntryChoice, labelOf, listEntryChoices } from '../../change/entry-choices.ts'
import { createSources } from '../../change/source.ts'
import { addTo } from '../../diagnostics/add-to.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { smallest } from '../../diagnostics/extremes.ts'
import { groupBy } from '../../diagnostics/group-by.ts'
import type { LinkTarget } from '../../link/link-resolver.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { pageAddress, qualifiedId } from '../../link/pages.ts'
import type { Site } from '../../query/open-site.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { readOptionsOf } from '../check-file.ts'
import type { OpeningOptions } from '../open-content.ts'
import type { ExaminedSite } from '../run-site.ts'

/** A use of an entry by another: the path of the reference, or nothing for a link in a text. */
export interface EntryUse {
  readonly entry: LinkedEntry
  readonly path: string | undefined
}

/** A link in the body or a text of an entry, and where it leads. */
export interface ResolvedLink {
  readonly href: string
  readonly target: LinkTarget
}

/** A site as it was examined, for those who show it: what it finds out is found out once. */
export interface SiteView {
  readonly site: ExaminedSite
  readonly model: Model
  /** The moment by which it is told what is to be seen. */
  readonly instant: string
  readonly entries: readonly LinkedEntry[]
  collectionOf(name: string): CollectionModel | undefined
  entriesIn(collection: string): readonly LinkedEntry[]
  /** An entry in a language; without one, in the first that it has. */
  find(collection: string, id: string, locale?: string): LinkedEntry | undefined
  /** All languages of an entry. */
  versionsOf(entry: Pick<LinkedEntry, 'collection' | 'id'>): readonly LinkedEntry[]
  labelOf(entry: LinkedEntry): string
  addressOf(entry: LinkedEntry): string | undefined
  /** What refers to an entry, and what links to it. */
  usesOf(entry: Pick<LinkedEntry, 'collection' | 'id'>): readonly EntryUse[]
  linksOf(entry: LinkedEntry): readonly ResolvedLink[]
  /** The file of an entry as its format reads it; undefined for what stands in none. */
  sourceOf(entry: LinkedEntry): EditedSource | undefined
  /** The entries that a reference to a collection may lead to, by what it says, in the order of their labels. */
  choicesOf(collection: string, by: string): readonly EntryChoice[]
  problemsOf(entry: LinkedEntry): readonly Diagnostic[]
  /** The entry that a problem is of, where it is of one. */
  ownerOf(problem: Diagnostic): LinkedEntry | undefined
  /** The entries for queries, those that did not pass whole included. */
  query(): Promise<Site>
}

/** The collections that were opened for queries, from one state of a site to the next. */
export type KeptCollections = NonNullable<OpeningOptions['kept']>

/** Views a site; undefined where its configuration is wrong. */
export function openView(
  site: ExaminedSite,
  { instant, kept = new Map() }: { readonly instant: string; readonly kept?: KeptCollections },
): SiteView | undefined {
  const { model, checked, report } = site
  if (!model) return undefined
  const entries = entriesOf(checked)
  const holders = new Map(checked.collections.map((one) => [one.collection.name, one]))
  const versions = once(() => groupBy(entries, qualifiedId))
  const uses = once(() => findUses(entries, linksOf))
  const owners = once(() => findOwners(entries, report.diagnostics))
  const links = new Map<LinkedEntry, readonly ResolvedLink[]>()
  const linksOf = (entry: LinkedEntry): readonly ResolvedLink[] => {
    const known = links.get(entry) ?? resolveLinks(entry, checked.resolveLink)
    links.set(entry, known)
    return known
  }
  const problems = once(() => groupBy([...owners()], ([, entry]) => entry))
  const versionsOf: SiteView['versionsOf'] = (entry) => versions().get(qualifiedId(entry)) ?? []
  const sources = createSources({ model, textOf: report.textOf }, readOptionsOf)
  const choices = new Map<string, readonly EntryChoice[]>()
  const query = once(async () => {
    const { openChecked } = await import('../open-content.ts')
    return (await openChecked(site, { incomplete: true, kept })).site
  })
  return {
    ...{ site, model, instant, entries, versionsOf, linksOf, query },
    collectionOf: (name) => holders.get(name)?.collection,
    entriesIn: (name) => holders.get(name)?.entries ?? [],
    find(collection, id, locale) {
      const found = versionsOf({ collection, id })
      return locale === undefined ? found[0] : found.find((one) => one.locale === locale)
    },
    labelOf: (entry) => labelOf(entry, holders.get(entry.collection)?.collection ?? { fields: {} }),
    addressOf(entry) {
      const collection = holders.get(entry.collection)?.collection
      return collection && pageAddress(entry, collection)
    },
    sourceOf: (entry) =>
      entry.source.implicit || holders.get(entry.collection)?.collection.source ? undefined : sources(entry),
    choicesOf(name, by) {
      const key = `${name} ${by}`
      const known = choices.get(key) ?? sortChoices(listEntryChoices(checked.collections, name, { by, isOnly: true }))
      choices.set(key, known)
      return known
    },
    usesOf: (entry) => uses().get(qualifiedId(entry)) ?? [],
    problemsOf: (entry) => (problems().get(entry) ?? []).map(([problem]) => problem),
    ownerOf: (problem) => owners().get(problem),
  }
}

/** Choices in the order of what people call them. */
function sortChoices(choices: readonly EntryChoice[]): readonly EntryChoice[] {
  const { compare } = new Intl.Collator('en')
  return choices.toSorted((a, b) => compare(a.label, b.label))
}

/** Makes something when it is first asked for. */
function once<Made>(make: () => Made): () => Made {
  let made: { readonly value: Made } | undefined
  return () => {
    made ??= { value: make() }
    return made.value
  }
}

function resolveLinks(entry: LinkedEntry, resolve: ExaminedSite['checked']['resolveLink']): readonly ResolvedLink[] {
  const summaries = [entry.body?.summary, ...entry.texts.map(({ summary }) => summary)]
  const addresses = new Set(summaries.flatMap((one) => one?.addresses ?? []))
  return [...addresses].map((href) => ({ href, target: resolve(href, entry) }))
}

function findUses(
  entries: readonly LinkedEntry[],
  linksOf: SiteView['linksOf'],
): ReadonlyMap<string, readonly EntryUse[]> {
  const found = new Map<string, EntryUse[]>()
  for (const entry of entries) {
    for (const link of entry.links) addTo(found, qualifiedId(link), { entry, path: link.path.join('.') })
    const linked = linksOf(entry).flatMap(({ href, target }) =>
      !href.startsWith('#') && 'page' in target && target.page ? [qualifiedId(target.page)] : [],
    )
    for (const name of new Set(linked)) if (name !== qualifiedId(entry)) addTo(found, name, { entry, path: undefined })
  }
  return found
}

/** The entries that problems are of: in a file of many, the last that begins before it. */
function findOwners(
  entries: readonly LinkedEntry[],
  diagnostics: readonly Diagnostic[],
): ReadonlyMap<Diagnostic, LinkedEntry> {
  const found = new Map<Diagnostic, LinkedEntry>()
  if (diagnostics.length === 0) return found
  const files = new Set(diagnostics.map(({ file }) => file))
  const concerned = entries.filter((entry) => !entry.source.implicit && files.has(fileOf(entry)))
  const byFile = groupBy(concerned, fileOf)
  const starts = new Map(
    [...byFile].map(([file, own]) => {
      const isAlone = own.length === 1 && own[0]?.recordPath.length === 0
      const placed = own.map((entry) => ({ entry, start: isAlone ? 0 : startOf(entry) }))
      return [file, placed.sort((a, b) => a.start - b.start)] as const
    }),
  )
  for (const problem of diagnostics) {
    const owner = starts.get(problem.file)?.findLast(({ start }) => start <= problem.span[0])
    if (owner) found.set(problem, owner.entry)
  }
  return found
}

const fileOf = (entry: LinkedEntry): string => entry.locate([]).file

/** Where an entry of a file of many begins: its name, or the first of its values. */
function startOf(entry: LinkedEntry): number {
  const keys = Object.keys(entry.data ?? entry.part ?? {})
  const starts = keys.map((key) => entry.locate([key]).span[0])
  const [name] = entry.locate([]).span
  return smallest(starts, (start) => (start > 0 ? start : name), name)
}
