import type { BodyLink } from '../body/parsed-body.ts'
import { createDiagnostic, type Diagnostic, type Place, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import type { EntryBody, FieldText, LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'
import type { LinkResolver, LinkTarget } from './link-resolver.ts'

/** Gives the text of a file. */
type TextOf = (file: string) => string | undefined

/** What was said of the links of entries in earlier runs. */
export interface LinkCheckMemory {
  readonly known: Map<string, ListMemory<LinkedEntry, LinksChecked>>
  readonly resolver: { readonly generation: number }
}

interface LinksChecked {
  readonly generation: number
  readonly diagnostics: readonly Diagnostic[]
}

/** Checks every link and image of every body and every field of Markdown: where they lead, and what images say. */
export const checkLinks = (
  collections: readonly LinkedCollection[],
  { resolve, textOf, memory }: { resolve: LinkResolver; textOf: TextOf; memory?: LinkCheckMemory | undefined },
): Diagnostic[] => {
  const generation = memory?.resolver.generation ?? 0
  const make = (entry: LinkedEntry): LinksChecked => {
    const isFine = (href: string): boolean => FINE_TARGETS.includes(resolve(href, entry).kind)
    const diagnostics = findLinks(entry, isFine, textOf).flatMap(({ href, place }) =>
      describeLink(href, resolve(href, entry), place),
    )
    diagnostics.push(...findSilentImages(entry, textOf))
    return diagnostics.length === 0 && generation === 0 ? FINE : { generation, diagnostics }
  }
  const isRight = (known: LinksChecked): boolean => known.generation === generation
  const diagnostics: Diagnostic[] = []
  for (const { collection, entries } of collections)
    for (const checked of mapAgain(memoryOf(memory?.known, collection.name), entries, { make, isRight }))
      diagnostics.push(...checked.diagnostics)
  return diagnostics
}

const FINE_TARGETS: readonly LinkTarget['kind'][] = ['outside', 'asset', 'entry']

const FINE: LinksChecked = { generation: 0, diagnostics: [] }

/** The links of an entry, in its body and in fields of Markdown, that are not passed over. */
export function findLinks(
  { body, texts, locate }: LinkedEntry,
  passOver: (href: string) => boolean,
  textOf: TextOf,
): { href: string; place: Place }[] {
  const found = body?.parsed.links(passOver).map((link) => ({ href: link.href, place: placeInBody(link, body) })) ?? []
  for (const field of texts) {
    const links = field.parsed.links(passOver)
    if (links.length === 0) continue
    const place = locate(field.path)
    found.push(...placeInField(links, field, { place, source: textOf(place.file) ?? '' }))
  }
  return found
}

/** Images without an alternative text. */
function findSilentImages({ body, texts, locate }: LinkedEntry, textOf: TextOf): Diagnostic[] {
  const found = body?.parsed.silentImages().map((span) => placeInBody({ href: '', span }, body)) ?? []
  for (const field of texts) {
    const spans = field.parsed.silentImages()
    if (spans.length === 0) continue
    const place = locate(field.path)
    const images = spans.map((span) => ({ href: '', span }))
    found.push(...placeInField(images, field, { place, source: textOf(place.file) ?? '' }).map((one) => one.place))
  }
  return found.map((place) => createDiagnostic('image-alternative', place, { in: body?.format ?? 'markdown' }))
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

function describeLink(href: string, target: LinkTarget, place: Place): Diagnostic[] {
  if (target.kind === 'broken')
    return [createDiagnostic('link-broken', place, { href: readable(href), suggestion: target.suggest() })]
  if (target.kind === 'failed') {
    const { collection, id, file } = target
    const related: RelatedPlace[] = [{ file, span: [0, 0], note: 'failed-target' }]
    return [createDiagnostic('ref-target-failed', place, { id, collection }, { related })]
  }
  if (target.kind === 'no-page') {
    const { collection, id } = target.entry
    return [createDiagnostic('link-without-page', place, { href: readable(href), collection, id })]
  }
  if (target.kind === 'hidden') {
    const { entry, reason } = target
    const { collection, id } = entry
    return [createDiagnostic('link-unpublished', place, { href: readable(href), collection, id, reason })]
  }
  if (target.kind === 'guarded') {
    const { collection } = target
    return [createDiagnostic('link-source', place, { href: readable(href), collection })]
  }
  if (target.kind !== 'no-heading') return []
  const { fragment } = target
  return [createDiagnostic('link-fragment', place, { href: readable(href), fragment, suggestion: target.suggest() })]
}

/** An address as a writer would write it. */
function readable(href: string): string {
  try {
    return decodeURI(href)
  } catch {
    return href
  }
}
