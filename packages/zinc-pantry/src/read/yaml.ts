import { type Event, parseEvents, YAMLException } from 'js-yaml'
import type { Span } from '../diagnostics/diagnostic.ts'
import { createDocument, MAX_DEPTH, type PlaceNode, type ReadResult, type SourceText } from './document.ts'
import { shiftPlaces } from './places.ts'
import { type ComposedText, type ComposedYaml, composeYaml } from './yaml-events.ts'
import { parseFallback } from './yaml-fallback-parser.ts'
import { describeUnknownTag, describeYamlFault, type YamlFault } from './yaml-fault.ts'

/** A part of a text that holds YAML, such as front matter. */
export interface YamlPart {
  /** Offset of the part in the whole text. */
  readonly startOffset: number
  readonly text: string
  /** The place of the whole when something is missing from it, such as a fence. */
  readonly opening?: Span
}

/**
 * Reads YAML 1.2 by the core schema: dates, `yes`, `no` and `on` are text. The first error of the
 * text is reported at its place. An empty text gives `null`, several documents a list of them.
 *
 * Diagnostics: `yaml-syntax`, `yaml-tab`, `yaml-colon`, `yaml-duplicate-key`, `yaml-tag`,
 * `yaml-tag-unknown`, `yaml-too-large`, `yaml-too-deep`.
 *
 * @example
 * ```ts
 * import { readYaml } from 'zinc-pantry/read'
 *
 * const { document, diagnostics } = readYaml({ file: 'hut.yaml', text: 'name: Gable Hut\nbeds: 24\n' })
 * console.log(document?.value, diagnostics.length) // { name: 'Gable Hut', beds: 24 } 0
 * ```
 */
export function readYaml(source: SourceText, part: YamlPart = { startOffset: 0, text: source.text }): ReadResult {
  const { file } = source
  const { composed, isFirst } = parseYaml(part.text)
  const { documents, fault, unknownTags = [] } = composed
  if (fault) return { document: undefined, diagnostics: [describeYamlFault(fault, file, part.startOffset)] }
  const buildPlaces = (): PlaceNode => {
    // Of thousands of texts the events would not fit into memory: those with a problem are parsed once more.
    const placed = isFirst ? composeYaml(eventsOf(part.text), part.text, true).documents : documents
    const root = shiftPlaces(joinPlaces(placed, part.text), part.startOffset)
    return part.opening ? { ...root, opening: part.opening } : root
  }
  const value = documents.length > 1 ? documents.map((document) => document.value) : documents[0]?.value
  const diagnostics = unknownTags.map((tag) => describeUnknownTag(tag, file, part.startOffset))
  const hasLeadingZeros = LEADING_ZERO.test(part.text)
  return { document: createDocument(value ?? null, buildPlaces, hasLeadingZeros), diagnostics }
}

/** Where no number has zeros in front, none must be looked at as it is written. */
const LEADING_ZERO = /(?:^|[\s,[])[-+]?0\d/

/** One document is the value itself; several are a list. */
function joinPlaces(documents: readonly ComposedYaml[], text: string): PlaceNode {
  const span: Span = [0, Math.min(1, text.length)]
  const places = documents.map((document) => document.place ?? { span })
  if (places.length < 2) return places[0] ?? { span }
  return { span, children: new Map(places.map((place, position) => [position, place])) }
}

const eventsOf = (text: string): Event[] => parseEvents(text, { maxDepth: MAX_DEPTH })

/** The value of a text; `isFirst` where the first parser gave it. */
function parseYaml(text: string): { readonly composed: ComposedText; readonly isFirst: boolean } {
  try {
    return { composed: composeYaml(eventsOf(text), text, false), isFirst: true }
  } catch (error) {
    if (!(error instanceof YAMLException)) throw error
    return { composed: composeRefused(text, error), isFirst: false }
  }
}

/** The value of a text that the first parser refuses. */
function composeRefused(text: string, error: YAMLException): ComposedText {
  if (error.reason.includes('maxDepth')) return { documents: [], fault: { code: 'too-deep', span: spanAt(error) } }
  // The second parser is laxer only with directives.
  if (error.reason.includes('irective')) return { documents: [], fault: faultOf(error) }
  return parseWithFallback(text, error)
}

function parseWithFallback(text: string, first: YAMLException): ComposedText {
  try {
    return parseFallback(text)
  } catch {
    // The slower parser can run out of stack; the first parser's word stands then.
    return { documents: [], fault: faultOf(first) }
  }
}

const faultOf = (error: YAMLException): YamlFault => ({
  code: 'syntax',
  reason: error.reason,
  span: spanAt(error),
})

const spanAt = (error: YAMLException): Span => {
  const position = error.mark?.position ?? 0
  return [position, position + 1]
}
