import { addTo } from '../../diagnostics/add-to.ts'
import type { LinkResolver } from '../../link/link-resolver.ts'
import { qualifiedId, versionKey } from '../../link/pages.ts'
import type { StoredBacklink } from '../../query/backlinks.ts'
import type { LinkExcerpt } from '../../schema/body-facts.ts'
import type { Entry, LinkedEntry } from '../../validate/entry.ts'
import type { SiteMemory } from '../cache/site-memory.ts'
import type { Holder } from './holder.ts'

/** What leads to each entry of a collection, by row; undefined where the collection does not keep it. */
export type BacklinkFinder = (collection: string) => readonly (readonly StoredBacklink[])[] | undefined

/** A place that leads to an entry. */
interface Mention {
  /** The entry in the language that is meant; without one in the language of the place. */
  readonly target: Pick<Entry, 'collection' | 'id'> & { readonly locale?: string | undefined }
  readonly backlink: StoredBacklink
}

interface Context {
  readonly resolveLink: LinkResolver
  /** That of the model. */
  readonly outline: object
  readonly memory: Pick<SiteMemory, 'memo' | 'bodies'>
}

/** Finds what leads to the entries of the collections that keep it: links in bodies and in fields of Markdown, and references. */
export function findBacklinks(holders: readonly Holder[], { resolveLink, outline, memory }: Context): BacklinkFinder {
  const keepers = new Set(holders.flatMap(({ collection: { name, backlinks } }) => (backlinks ? [name] : [])))
  if (keepers.size === 0) return () => undefined
  const { bodies } = memory
  const memo = memory.memo.within('backlinks')
  const mentions = holders.map(({ collection, entries }) =>
    memo.map(collection.name, entries, {
      inputs: [outline, [...keepers].join()],
      look: (entry, href: string) => targetOf(href, entry, resolveLink, keepers),
      make: (entry, read) => [...referencesOf(entry as LinkedEntry, keepers), ...linksOf(entry, read)],
      answeredFrom: [resolveLink],
      isEqual: (one, other) => JSON.stringify(one) === JSON.stringify(other),
    }),
  )

  function linksOf(entry: Entry, read: (href: string) => string | undefined): Mention[] {
    const { collection, id, body } = entry
    const find = (links: readonly string[], excerpts: readonly LinkExcerpt[], path: string): Mention[] =>
      links.flatMap((href, at): Mention[] => {
        const target = read(href)
        return target === undefined
          ? []
          : [{ target: JSON.parse(target) as Mention['target'], backlink: { collection, id, path, ...excerpts[at] } }]
      })
    const inTexts = entry.texts.flatMap(({ text, summary, path, isPrivate }) => {
      if (isPrivate || summary.addresses.every((href) => read(href) === undefined)) return []
      const { links = [], excerpts = [] } = bodies.factsOfText(collection, text) ?? {}
      return find(links, excerpts, dotted(path))
    })
    if (!body || body.summary.addresses.every((href) => read(href) === undefined)) return inTexts
    const { links, excerpts } = bodies.factsOf(body)
    return [...inTexts, ...find(links, excerpts, 'body')]
  }

  return (name) => {
    const holder = holders.find(({ collection }) => collection.name === name)
    if (!holder || !keepers.has(name)) return undefined
    return memo.value(`to ${name}`, [holder.entries, ...mentions], () => arrange(holder.entries, holders, mentions))
  }
}

/** The entry that a link leads to, where its collection keeps that, as a text that can be compared. */
function targetOf(
  href: string,
  from: Entry,
  resolveLink: LinkResolver,
  keepers: ReadonlySet<string>,
): string | undefined {
  const target = resolveLink(href, from)
  if ((target.kind !== 'entry' && target.kind !== 'no-page') || target.page === from) return undefined
  const { collection, id, locale } = target.page
  return keepers.has(collection) ? JSON.stringify({ collection, id, locale }) : undefined
}

function referencesOf(entry: LinkedEntry, keepers: ReadonlySet<string>): Mention[] {
  const found = entry.links.flatMap(({ collection, id, path, isPrivate }): Mention[] => {
    if (isPrivate || !keepers.has(collection)) return []
    const backlink = { collection: entry.collection, id: entry.id, path: dotted(path) }
    return [{ target: { collection, id, locale: entry.locale }, backlink }]
  })
  // An entry may refer to one several times from one field, as from the items of a list.
  return [...new Map(found.map((one) => [JSON.stringify(one), one])).values()]
}

/** The names in a path; which item of a list it is, is not told. */
const dotted = (path: readonly (string | number)[]): string => path.filter((step) => typeof step === 'string').join('.')

/** Brings what leads to each entry together: to the version in the language that is meant, or else to the first. */
function arrange(
  entries: readonly Entry[],
  holders: readonly Holder[],
  mentions: readonly (readonly (readonly Mention[])[])[],
): readonly (readonly StoredBacklink[])[] {
  const versions = new Set(entries.map(versionKey))
  const firsts = new Map(entries.toReversed().map((entry) => [qualifiedId(entry), versionKey(entry)]))
  const byVersion = new Map<string, StoredBacklink[]>()
  for (const [number, { entries: own }] of holders.entries())
    for (const [row, { locale }] of own.entries())
      for (const { target, backlink } of mentions[number]?.[row] ?? []) {
        const { collection, id } = target
        const meant = versionKey({ collection, id, locale: target.locale ?? locale })
        const key = versions.has(meant) ? meant : firsts.get(qualifiedId(target))
        const isItself = target.collection === backlink.collection && target.id === backlink.id
        if (key !== undefined && !isItself) addTo(byVersion, key, backlink)
      }
  return entries.map((entry) => byVersion.get(versionKey(entry)) ?? NONE)
}

const NONE: readonly StoredBacklink[] = []
