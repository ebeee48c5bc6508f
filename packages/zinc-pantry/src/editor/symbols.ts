import type { BodyHeading } from '../body/body-summary.ts'
import { labelOf } from '../change/entry-choices.ts'
import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { qualifiedId } from '../link/pages.ts'
import type { PathSegment, ReadDocument } from '../read/document.ts'
import { formatOf } from '../read/formats.ts'
import type { EditorSite } from './editor-site.ts'
import type { EditedDocument } from './look-at.ts'

/** A part of a document, with those in it. */
export interface DocumentPart {
  readonly name: string
  readonly kind: 'entry' | 'key' | 'heading'
  /** What is selected when a writer goes there. */
  readonly span: Span
  /** All of it. */
  readonly range: Span
  readonly parts: readonly DocumentPart[]
}

/** So many levels of data are in an outline. */
const MOST_LEVELS = 4
/** Of a list or a group so many. */
const MOST_PARTS = 2_000

/** The structure of a document: its keys, or its entries, and the headings of its body. */
export async function outline(
  { model, site, entriesIn, contentPath }: EditorSite,
  { file, text }: EditedDocument,
): Promise<readonly DocumentPart[]> {
  const read = formatOf(file, model.endings)?.read({ file, text }, {})
  const labels = new Map<string, string>()
  for (const entry of entriesIn(contentPath(file) ?? '')) {
    const collection = model.collections.find(({ name }) => name === entry.collection)
    if (collection && entry.recordPath.length > 0) labels.set(entry.recordPath.join('\n'), labelOf(entry, collection))
  }
  const ofData = read?.document
    ? partsOf(read.document, read.document.value, { path: [], labels, end: read.body?.startOffset ?? text.length })
    : []
  const [entry] = entriesIn(contentPath(file) ?? '')
  const { bodies } = site.checked
  if (!entry?.body || !bodies) return ofData
  await bodies.prepare([entry.body])
  return [...ofData, ...nestHeadings(bodies.headingsOf(entry.body), text.length)]
}

interface Within {
  readonly path: readonly PathSegment[]
  readonly labels: ReadonlyMap<string, string>
  readonly end: number
}

function partsOf(document: ReadDocument, value: unknown, { path, labels, end }: Within): readonly DocumentPart[] {
  if (typeof value !== 'object' || value === null || path.length >= MOST_LEVELS) return []
  const items = Object.entries(value).slice(0, MOST_PARTS)
  const places = items.map(([key]) => {
    const own = [...path, Array.isArray(value) ? Number(key) : key]
    return { own, span: document.locate(own, 'key'), value: document.locate(own, 'value') }
  })
  return items.map(([key, inner], at): DocumentPart => {
    const { own, span, value: place } = places[at] as (typeof places)[number]
    const next = places[at + 1]?.span[0] ?? end
    const label = labels.get(own.join('\n'))
    const range: Span = [Math.min(span[0], place[0]), Math.max(span[1], place[1], Math.min(next, end) - 1, span[0])]
    const parts = partsOf(document, inner, { path: own, labels, end: Math.min(next, end) })
    const kind = label === undefined ? 'key' : 'entry'
    return {
      name: label ?? (Array.isArray(value) ? `${Number(key) + 1}` : key),
      kind,
      span: inside(span, range),
      range,
      parts,
    }
  })
}

const inside = ([start, end]: Span, [from, to]: Span): Span => [
  Math.max(start, from),
  Math.max(Math.max(start, from), Math.min(end, to)),
]

/** The headings of a body, each with those below it. */
function nestHeadings(headings: readonly BodyHeading[], end: number): readonly DocumentPart[] {
  const nest = (from: number, to: number): DocumentPart[] => {
    const parts: DocumentPart[] = []
    for (let one = from; one < to; ) {
      const { depth, text, id, span } = headings[one] as BodyHeading
      let next = one + 1
      while (next < to && (headings[next]?.depth ?? 0) > depth) next++
      const until = headings[next]?.span[0] ?? end
      const range: Span = [span[0], Math.max(span[1], until - 1)]
      parts.push({ name: text || id, kind: 'heading', span, range, parts: nest(one + 1, next) })
      one = next
    }
    return parts
  }
  return nest(0, headings.length)
}

/** An entry that a writer may go to. */
export interface EntrySymbol {
  readonly name: string
  /** Its collection and id. */
  readonly detail: string
  readonly place: Place
}

/** Of all that match so many are told. */
const MOST_SYMBOLS = 200

/** Finds entries by pieces of their labels or ids, in order: `gbl` finds Gable Hut. */
export function findEntries({ model, entries }: EditorSite, query: string): readonly EntrySymbol[] {
  const collections = new Map(model.collections.map((one) => [one.name, one]))
  const wanted = query.toLowerCase()
  const found: EntrySymbol[] = []
  for (const entry of entries) {
    const collection = collections.get(entry.collection)
    if (!collection) continue
    const [name, detail] = [labelOf(entry, collection), qualifiedId(entry)]
    if (!hasInOrder(`${name} ${detail}`.toLowerCase(), wanted)) continue
    found.push({ name, detail, place: entry.locate([]) })
    if (found.length === MOST_SYMBOLS) break
  }
  return found
}

/** True where all signs are in a text, in their order. */
export function hasInOrder(text: string, signs: string): boolean {
  let at = 0
  for (const sign of signs) {
    at = text.indexOf(sign, at) + 1
    if (at === 0) return false
  }
  return true
}
