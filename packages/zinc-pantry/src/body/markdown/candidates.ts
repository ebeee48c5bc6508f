import { ADDRESS_ATTRIBUTES } from '../html-addresses.ts'

/** A candidate for the address of a link. */
export interface Candidate {
  readonly address: string
  /** True for one that stands in a definition. */
  readonly isDefined: boolean
}

/** A pattern of every address in a text, and of more; never of less. On a new line it may stand behind the marks of a quotation. */
const CANDIDATE = new RegExp(
  String.raw`\]\([^\S\r\n]*(?:[\r\n][\s>]*)?([^\s)]*)|\]:[^\S\r\n]*(?:[\r\n][\s>]*)?(\S+)|(?:${ADDRESS_ATTRIBUTES.join('|')})\s*=\s*(?=(?:"([^"]*)"|'([^']*)'|([^\s"'>]*)))`,
  'gi',
)

/** Every candidate for the address of a link. */
export function findCandidates(text: string): readonly Candidate[] {
  const candidates: Candidate[] = []
  // Written out: this is asked of every text of a site, and of each of its lines for links that are told.
  for (const [, inline, defined, double, single, bare] of text.matchAll(CANDIDATE)) {
    const address = inline ?? defined ?? double ?? single ?? bare ?? ''
    const isDefined = defined !== undefined
    candidates.push({ address, isDefined })
    // An attribute may hold many, each with a width behind it.
    if (/[\s,]/.test(address)) for (const part of address.split(/[\s,]+/)) candidates.push({ address: part, isDefined })
  }
  return candidates
}

/** A pattern of every fence with a language, and of more; never of less. */
const FENCE = /(?:`{3,}|~{3,})[^\S\n]*([^\s{]+)/g

/** Every candidate for the language of a fence, once. */
export const findLanguages = (text: string): string[] => [
  ...new Set(Array.from(text.matchAll(FENCE), ([, language = '']) => language)),
]

/** A pattern of every picture without an alternative text, and of more; never of less. */
const SILENT = /!\[\s*\]|<img/i

/** False for a text all of whose pictures have an alternative text. */
export const mayBeSilent = (text: string): boolean => SILENT.test(text)
