import { ADDRESS_ATTRIBUTES } from '../html-addresses.ts'

/** A candidate for the address of a link. */
export interface Candidate {
  readonly address: string
  /** True for one that stands in a definition. */
  readonly isDefined: boolean
}

/** A pattern of every address behind a bracket, and of more; never of less. On a new line it may stand behind the marks of a quotation. */
const BEHIND_BRACKET = /\](?:\([^\S\r\n]*(?:[\r\n][\s>]*)?([^\s)]*)|:[^\S\r\n]*(?:[\r\n][\s>]*)?(\S+))/g
/** The name of an attribute with an address, in front of its sign. */
const ATTRIBUTE = new RegExp(`(?:${ADDRESS_ATTRIBUTES.join('|')})$`, 'i')
const MOST_LETTERS = Math.max(...ADDRESS_ATTRIBUTES.map(({ length }) => length))
/** The value of an attribute, behind its sign. */
const VALUE = /\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]*))/y

/**
 * Every candidate for the address of a link: all that there are, and more. It is asked of every text of a site, so that brackets and
 * equals signs are looked for, which the engine does many times as fast as trying several names at each letter.
 */
export function findCandidates(text: string): readonly Candidate[] {
  const candidates: Candidate[] = []
  for (const [, inline, defined = ''] of text.matchAll(BEHIND_BRACKET))
    candidates.push({ address: inline ?? defined, isDefined: inline === undefined })
  for (let sign = text.indexOf('='); sign !== -1; sign = text.indexOf('=', sign + 1)) {
    let end = sign
    while (/\s/.test(text[end - 1] ?? '')) end--
    if (!ATTRIBUTE.test(text.slice(Math.max(0, end - MOST_LETTERS), end))) continue
    VALUE.lastIndex = sign + 1
    const [, double, single, bare] = VALUE.exec(text) ?? []
    const address = double ?? single ?? bare ?? ''
    candidates.push({ address, isDefined: false })
    // It may hold many, each with a width behind it.
    if (/[\s,]/.test(address))
      for (const part of address.split(/[\s,]+/)) candidates.push({ address: part, isDefined: false })
  }
  return candidates
}

/** A pattern of every fence with a language, and of more; never of less. */
const FENCE = /(?:`{3,}|~{3,})[^\S\n]*([^\s{]+)/g

/** Every candidate for the language of a fence, once. */
export const findLanguages = (text: string): string[] => [
  ...new Set(Array.from(text.matchAll(FENCE), ([, language = '']) => language)),
]

/** False for a text all of whose pictures have an alternative text. */
export const mayBeSilent = (text: string): boolean =>
  (text.includes('![') && /!\[\s*\]/.test(text)) || (text.includes('<') && /<img/i.test(text))
