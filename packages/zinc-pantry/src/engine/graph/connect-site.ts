import type { SiteHistory } from '../../compute/fill-history.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import type { TextSource } from '../../diagnostics/render-text.ts'
import { describeSharedAddresses, findSharedAddresses } from '../../link/check-addresses.ts'
import { checkCollections } from '../../link/check-collections.ts'
import { checkFormerAddresses } from '../../link/check-former-addresses.ts'
import {
  areSameLabels,
  createLabelLister,
  describeNearLabels,
  findNearIds,
  findNearLabels,
  type Label,
} from '../../link/check-labels.ts'
import { checkImages, createLinkChecker, hasAddress, listNamedBodies } from '../../link/check-links.ts'
import { createUniqueKeys, describeDuplicates, findDuplicates, type UniqueKeys } from '../../link/check-unique.ts'
import type { ImplicitEntry } from '../../link/implicit-entries.ts'
import type { CollectionEntries, LinkedCollection } from '../../link/link-entry.ts'
import {
  type CollectionPages,
  createLinkResolver,
  type LinkContext,
  type LinkResolver,
} from '../../link/link-resolver.ts'
import { createPage, isSamePage, type Page } from '../../link/pages.ts'
import { findUnpublished, listBoundaries, type Viewing, withoutHidden } from '../../link/publication.ts'
import { findUsedSlugs } from '../../link/used-slugs.ts'
import { areSame, areSameMaps } from '../../memo/are-same.ts'
import type { Memo } from '../../memo/memo.ts'
import { writtenEndingsOf } from '../../read/formats.ts'
import type { PatternMatcher } from '../../schema/check-run.ts'
import type { RuledBody } from '../../schema/computation.ts'
import { type Model, mayDangle } from '../../schema/model.ts'
import type { SettingProblem } from '../../schema/settings-reader.ts'
import type { EntryBody, LinkedEntry } from '../../validate/entry.ts'
import { concatenate } from '../../values/concatenate.ts'
import { createRowView, type RowList } from '../../values/row-list.ts'
import type { Bodies } from '../bodies.ts'
import { orderComputed, orderEntries } from '../order-entries.ts'
import { type ComputedSite, computePublished, computeSite } from './compute-site.ts'
import { linkSite } from './link-site.ts'

/** The surroundings of the connection of entries. */
export interface ConnectContext extends Pick<LinkContext, 'files' | 'publicFiles' | 'guarded'> {
  readonly model: Model
  readonly viewing: Viewing
  readonly matches: PatternMatcher
  readonly textOf: TextSource
  readonly bodies: Bodies
  readonly history: SiteHistory
}

/** All that concerns more than one entry. */
export interface ConnectedSite {
  /** The published entries, in the order of each collection. */
  readonly collections: readonly LinkedCollection[]
  /** Also what is not to be seen. */
  readonly everything: readonly LinkedCollection[]
  readonly diagnostics: readonly Diagnostic[]
  /** Of settings that only the content shows to be wrong. */
  readonly problems: readonly SettingProblem[]
  readonly implicit: readonly ImplicitEntry[]
  readonly entryCount: number
  /** Where links of bodies lead. */
  readonly resolveLink: LinkResolver
  /** Dates and instants at which something begins or ends to be seen. */
  readonly boundaries: readonly string[]
  readonly whole: ComputedSite
}

/**
 * Connects entries: resolves references, computes, hides what is not to be seen, and checks what holds between them.
 */
export function connectSite(
  memo: Memo,
  checked: readonly CollectionEntries[],
  { model, viewing, matches, history, ...context }: ConnectContext,
): ConnectedSite {
  const { blocks, outline } = model
  const bodyOf = (body: EntryBody): RuledBody => ({ format: body.format, ...context.bodies.factsOf(body) })
  const settled = new Set(checked.flatMap(({ collection, isSettled }) => (isSettled ? [collection.name] : [])))
  const links = linkSite(memo.within('links'), checked, { blocks, matches, mayDangle: mayDangle(model), outline })
  const order = memo.within('order')
  const ordered = links.linked.map((one) => ({
    collection: one.collection,
    entries: order.value(one.collection.name, [outline, one.entries], () => orderEntries(one, 'written').entries),
  }))
  const computing = { blocks, matches, bodyOf, history, outline }
  const whole = computeSite(memo.within('whole'), ordered, computing)
  const everything = orderComputed(whole.computed)
  const {
    hidden,
    blocked,
    diagnostics: unpublished,
  } = findUnpublished(whole.computed, {
    ...viewing,
    locales: model.locales,
  })
  const published =
    hidden.size === 0
      ? undefined
      : computePublished(memo.within('published'), withoutHidden(ordered, { hidden, blocked }), { ...computing, whole })
  const collections = published ? orderComputed(published.computed) : everything
  // What is unique, or alike, is so within a collection, and its entries have no links.
  const unsettled = everything.map((one) => (settled.has(one.collection.name) ? { ...one, entries: [] } : one))
  const codes = [
    ...LINK_CODES,
    ...(hidden.size > 0 ? ['link-unpublished'] : []),
    ...(context.guarded.size > 0 ? ['link-source'] : []),
  ]
  const pages = listPages(memo.within('pages'), everything, outline)
  const resolveLink = memo.value(
    'resolver',
    [
      ...pages.flatMap(({ name, hasPages, pages: own }) => [name, hasPages, memo.isKept ? own() : undefined]),
      context.files,
      memo.keepEqual('public files', context.publicFiles, areSame),
      context.guarded,
      outline,
      memo.keepEqual('hidden', hidden, areSameMaps),
      JSON.stringify(checked.map(({ failedFiles }) => failedFiles)),
    ],
    () =>
      createLinkResolver({
        ...context,
        collections: pages,
        served: model.served,
        writtenEndings: writtenEndingsOf(model.endings),
        assetBase: model.assetBase,
        failedFiles: new Map(checked.map(({ collection, failedFiles }) => [collection.name, failedFiles])),
        hidden,
      }),
  )
  return {
    collections,
    everything,
    diagnostics: [
      ...links.diagnostics,
      ...whole.diagnostics,
      ...findDuplicateKeys(memo.within('unique'), unsettled, model),
      ...findLabels(memo.within('labels'), unsettled, model),
      ...checkCollections(unsettled, model.locales),
      ...unpublished,
      ...(published?.diagnostics ?? []),
      ...findDuplicateAddresses(memo, published ? collections : everything, {
        known: published ? undefined : pages,
        outline,
      }),
      ...checkFormerAddresses(everything, pages),
      ...(codes.every((code) => isOff(model, code))
        ? []
        : checkAllLinks(memo.within('checked links'), unsettled, { resolveLink, model, ...context })),
    ],
    problems: links.problems,
    implicit: links.implicit,
    entryCount: links.linked.reduce((sum, { entries }) => sum + entries.length, 0),
    resolveLink,
    boundaries: listBoundaries(everything),
    whole,
  }
}

/** True for a code of which the site is told nothing. */
const isOff = ({ severities }: Model, code: string): boolean => severities.get(code) === 'off'

const LINK_CODES = ['link-broken', 'link-fragment', 'link-without-page', 'image-alternative']

/** The pages of all entries. */
const listPages = (memo: Memo, collections: readonly LinkedCollection[], outline: object): readonly CollectionPages[] =>
  collections.map(({ collection, entries }) => {
    let pages: readonly Page[] | undefined
    return {
      name: collection.name,
      hasPages: collection.address !== undefined,
      pages() {
        pages ??= memo.map(collection.name, entries, {
          inputs: [outline],
          make: (entry) => createPage(entry, collection),
          isEqual: isSamePage,
        })
        return pages
      },
    }
  })

/** Finds ids, slugs and values that are there twice. */
function findDuplicateKeys(memo: Memo, collections: readonly LinkedCollection[], model: Model): Diagnostic[] {
  const { sharedSlugs, outline } = model
  const keys = collections.map(({ collection, entries }): RowList<UniqueKeys> => {
    const make = createUniqueKeys(collection)
    // What nobody compares with that of a later run is not held for all entries at once.
    if (!memo.isKept) return createRowView(entries, make)
    return memo.map(collection.name, entries, { inputs: [outline], make, isEqual: areSame })
  })
  const numberOf = (name: string): number => collections.findIndex(({ collection }) => collection.name === name)
  const duplicates = memo.value('duplicates', [...keys, sharedSlugs], () =>
    findDuplicates(
      keys,
      sharedSlugs.map((names) => names.map(numberOf)),
    ),
  )
  const used = memo.value('used slugs', [outline], () => findUsedSlugs(model))
  return describeDuplicates(duplicates, collections, (collection) => used.has(collection))
}

/** The number of entries whose labels take less memory than time. */
const FEW_ENTRIES = 20_000

/** Finds labels that are written in several ways: again where a label is another, or in another entry. */
function findLabels(memo: Memo, collections: readonly LinkedCollection[], model: Model): Diagnostic[] {
  if (isOff(model, 'label-near')) return []
  return collections.flatMap(({ collection, entries }) => {
    const list = createLabelLister(collection, model.blocks)
    // Labels that nobody compares with those of a later run are not listed for all entries at once, but for few.
    const labels =
      list && (memo.isKept || entries.length <= FEW_ENTRIES)
        ? memo.map(collection.name, entries, {
            inputs: [model.outline],
            make: (entry) => list(entry),
            isEqual: areSameLabels,
          })
        : undefined
    const labelsOf = (row: number): readonly Label[] => labels?.[row] ?? list?.(entries[row] as LinkedEntry) ?? []
    const near = memo
      .within('near')
      .value(collection.name, [labels], () => findNearLabels(list ? entries.length : 0, labelsOf))
    const created = collection.createFrom === undefined ? [] : findNearIds(entries.map(({ id }) => id))
    return describeNearLabels([...created, ...near], { entries, list })
  })
}

/** Finds pages of what is to be seen that have one address. */
function findDuplicateAddresses(
  memo: Memo,
  collections: readonly LinkedCollection[],
  { known, outline }: { readonly known: readonly CollectionPages[] | undefined; readonly outline: object },
): Diagnostic[] {
  const pages = known ?? listPages(memo.within('published pages'), collections, outline)
  const shared = memo.value(
    'shared addresses',
    pages.map((one) => (one.hasPages && memo.isKept ? one.pages() : undefined)),
    () => findSharedAddresses(pages),
  )
  return describeSharedAddresses(shared, collections)
}

/** Checks all links; those of an entry again where one of them may lead elsewhere, or its heading is gone. */
function checkAllLinks(
  memo: Memo,
  collections: readonly LinkedCollection[],
  {
    resolveLink,
    textOf,
    bodies,
    model,
  }: Pick<ConnectedSite, 'resolveLink'> & Pick<ConnectContext, 'textOf' | 'bodies' | 'model'>,
): Diagnostic[] {
  const headings = isOff(model, 'link-fragment')
    ? NO_HEADINGS
    : findHeadings(memo, collections, { resolveLink, bodies })
  const checker = createLinkChecker(resolveLink, { textOf, isOff: (code) => isOff(model, code) })
  return collections.flatMap(({ collection, entries }) =>
    concatenate(
      memo.map(collection.name, entries, {
        inputs: [resolveLink, model.outline],
        look: (_, file: string) => headings.get(file),
        make(entry, read): readonly Diagnostic[] {
          const isFine = checker.createTest(entry, read)
          const images = checkImages(entry, textOf)
          if (!hasAddress(entry, isFine)) return images
          return [...checker.describe(entry, bodies.locateLinks(entry, isFine), read), ...images]
        },
        // An entry stays the same where what stands above it was changed, and its problems stand elsewhere.
        isKept: (diagnostics) => diagnostics.length === 0,
      }),
    ),
  )
}

const NO_HEADINGS: ReadonlyMap<string, readonly string[]> = new Map()

/** The ids of those bodies that a fragment of a link names, by their files. */
function findHeadings(
  memo: Memo,
  collections: readonly LinkedCollection[],
  { resolveLink, bodies }: Pick<ConnectedSite, 'resolveLink'> & Pick<ConnectContext, 'bodies'>,
): ReadonlyMap<string, readonly string[]> {
  const named = new Set(
    collections.flatMap(({ collection, entries }) =>
      concatenate(
        memo.within('named bodies').map(collection.name, entries, {
          inputs: [resolveLink],
          make: (entry) => listNamedBodies(entry, resolveLink),
        }),
      ),
    ),
  )
  const headings = new Map<string, readonly string[]>()
  for (const { collection, entries } of named.size === 0 ? [] : collections) {
    const own = entries.filter(({ body, source }) => body && named.has(source.file))
    const ids = memo.within('headings').map(collection.name, own, {
      make: ({ body }): readonly string[] => (body ? bodies.idsOf(body) : []),
      isEqual: areSame,
    })
    for (const [at, { source }] of own.entries()) headings.set(source.file, ids[at] ?? [])
  }
  return headings
}
