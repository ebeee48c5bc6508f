import type { BodyLink } from '../body/body-summary.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import {
  createDiagnostic,
  type Diagnostic,
  type Place,
  type RelatedPlace,
  type Span,
} from '../diagnostics/diagnostic.ts'
import { createSuggester, type Suggester } from '../diagnostics/suggest.ts'
import type { EntryBody, FieldText, LinkedEntry } from '../validate/entry.ts'
import type { LinkResolver, LinkTarget } from './link-resolver.ts'

/** Gives the text of a file. */
type TextOf = (file: string) => string | undefined

/** Gives the ids that fragments may name in the body of a file; undefined for one without a body. */
export type HeadingFinder = (file: string) => readonly string[] | undefined

/** The links of an entry that are to be told, with the places that they have in its texts. */
export interface LocatedLinks {
  readonly body: readonly BodyLink[]
  /** Of each field of Markdown. */
  readonly texts: readonly (readonly BodyLink[])[]
}

/** True for an address of which nothing is to be told. */
export type AddressTest = (href: string) => boolean

/** True where an entry may have an address that does not pass. */
export const hasAddress = ({ body, texts }: LinkedEntry, isFine: AddressTest): boolean =>
  !(body?.summary.addresses.every(isFine) ?? true) || !texts.every(({ summary }) => summary.addresses.every(isFine))

/** A checker of the links and the images of entries. */
export interface LinkChecker {
  /** Tells the addresses of an entry that lead where they should. */
  createTest(entry: LinkedEntry, headingsIn: HeadingFinder): AddressTest
  /** Describes links that do not. */
  describe(entry: LinkedEntry, links: LocatedLinks, headingsIn: HeadingFinder): Diagnostic[]
}

/** Makes what checks where links lead; links of which nothing is told, because that is off, need not be found in their texts. */
export function createLinkChecker(
  resolve: LinkResolver,
  { textOf, isOff }: { readonly textOf: TextOf; readonly isOff: (code: string) => boolean },
): LinkChecker {
  const suggest = createSuggester()
  const find = (entry: LinkedEntry, href: string, headingsIn: HeadingFinder): CheckedTarget =>
    checkFragment(resolve(href, entry), headingsIn)
  return {
    createTest: (entry, headingsIn) => (href) => {
      const code = codeOf(find(entry, href, headingsIn).kind)
      return code === undefined || isOff(code)
    },
    describe: (entry, links, headingsIn) =>
      placeLinks(entry, links, textOf).flatMap(({ href, place }) =>
        describeLink(href, find(entry, href, headingsIn), { place, suggest }),
      ),
  }
}

/** The files in whose bodies a link of an entry names a heading. */
export function listNamedBodies(entry: LinkedEntry, resolve: LinkResolver): readonly string[] {
  const { body, texts } = entry
  if (!body && texts.length === 0) return NO_FILES
  const files = new Set<string>()
  for (const { addresses } of [...(body ? [body.summary] : []), ...texts.map(({ summary }) => summary)])
    for (const href of addresses) {
      const target = href.includes('#') ? resolve(href, entry) : undefined
      if (target && 'fragment' in target && target.fragment !== '') files.add(target.page.source.file)
    }
  return files.size === 0 ? NO_FILES : [...files]
}

const NO_FILES: readonly string[] = []

/** Where a link leads, the heading that it names being looked for. */
type CheckedTarget = LinkTarget | NoHeading

interface NoHeading {
  readonly kind: 'no-heading'
  readonly fragment: string
  readonly file: string
  readonly ids: readonly string[]
}

function checkFragment(target: LinkTarget, headingsIn: HeadingFinder): CheckedTarget {
  if (!('fragment' in target) || target.fragment === '' || target.fragment.toLowerCase() === 'top') return target
  const { fragment, page } = target
  const { file } = page.source
  const ids = headingsIn(file)
  return !ids || ids.includes(fragment) ? target : { kind: 'no-heading', fragment, file, ids }
}

/** What is told of a link by where it leads. */
const CODES = {
  broken: 'link-broken',
  failed: 'ref-target-failed',
  'no-page': 'link-without-page',
  hidden: 'link-unpublished',
  guarded: 'link-source',
  'no-heading': 'link-fragment',
} as const satisfies Partial<Record<CheckedTarget['kind'], string>>

const codeOf = (kind: CheckedTarget['kind']): string | undefined => (CODES as Partial<Record<string, string>>)[kind]

/** Places the links of an entry in their files. */
export function placeLinks(entry: LinkedEntry, links: LocatedLinks, textOf: TextOf): { href: string; place: Place }[] {
  const { body, texts } = entry
  const found = body ? links.body.map((link) => ({ href: link.href, place: placeInBody(link, body) })) : []
  for (const [at, field] of texts.entries()) {
    const own = links.texts[at] ?? []
    if (own.length === 0) continue
    const place = entry.locate(field.path)
    appendAll(found, placeInField(own, field, { place, source: textOf(place.file) ?? '' }))
  }
  return found
}

/** Describes images without an alternative text. */
export function checkImages(entry: LinkedEntry, textOf: TextOf): readonly Diagnostic[] {
  const { body, texts } = entry
  const asLinks = (spans: readonly Span[]): BodyLink[] => spans.map((span) => ({ href: '', span }))
  const images = {
    body: asLinks(body?.summary.silentImages ?? []),
    texts: texts.map(({ summary }) => asLinks(summary.silentImages)),
  }
  return placeLinks(entry, images, textOf).map(({ place }) =>
    createDiagnostic('image-alternative', place, { in: body?.format ?? 'markdown' }),
  )
}

const placeInBody = ({ span }: BodyLink, { startOffset, file }: EntryBody): Place => ({
  file,
  span: [span[0] + startOffset, span[1] + startOffset],
})

/**
 * Where the links of a field stand in its file: the text can be indented, folded or escaped there. What is written between
 * two links tells how often the same is written before the second.
 */
function placeInField(
  links: readonly BodyLink[],
  { text }: FieldText,
  { place, source }: { readonly place: Place; readonly source: string },
): { href: string; place: Place }[] {
  const [start, end] = place.span
  const field = source.slice(start, end)
  const inOrder = [...links].sort((a, b) => a.span[0] - b.span[0])
  let before = 0
  let at = 0
  return inOrder.map(({ href, span }) => {
    const written = text.slice(...span)
    const others = text.slice(before, span[0]).split(written).length - 1
    let found = field.indexOf(written, at)
    for (let count = 0; count < others && found !== -1; count++) found = field.indexOf(written, found + written.length)
    if (found === -1 || written === '') return { href, place }
    before = span[1]
    at = found + written.length
    return { href, place: { file: place.file, span: [start + found, start + at] } }
  })
}

function describeLink(
  href: string,
  target: CheckedTarget,
  { place, suggest }: { readonly place: Place; readonly suggest: Suggester },
): Diagnostic[] {
  if (target.kind === 'broken')
    return [createDiagnostic('link-broken', place, { href: readable(href), suggestion: target.suggest() })]
  if (target.kind === 'failed') {
    const { collection, id, file } = target
    const related: RelatedPlace[] = [{ file, span: [0, 0], note: 'failed-target' }]
    return [createDiagnostic('ref-target-failed', place, { id, collection }, { related })]
  }
  if (target.kind === 'no-page') {
    const { collection, id } = target.page
    return [createDiagnostic('link-without-page', place, { href: readable(href), collection, id })]
  }
  if (target.kind === 'hidden') {
    const { reason } = target
    const { collection, id } = target.page
    return [createDiagnostic('link-unpublished', place, { href: readable(href), collection, id, reason })]
  }
  if (target.kind === 'guarded') {
    const { collection } = target
    return [createDiagnostic('link-source', place, { href: readable(href), collection })]
  }
  if (target.kind !== 'no-heading') return []
  const { fragment, file, ids } = target
  const suggestion = suggest(`headings of ${file}`, fragment, { size: ids.length, words: () => ids })
  return [createDiagnostic('link-fragment', place, { href: readable(href), fragment, suggestion })]
}

/** An address as a writer would write it. */
function readable(href: string): string {
  try {
    return decodeURI(href)
  } catch {
    return href
  }
}
