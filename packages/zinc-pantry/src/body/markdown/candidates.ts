import { largest } from '../../diagnostics/extremes.ts'
import { hasScheme } from '../../diagnostics/has-scheme.ts'
import { ADDRESS_ATTRIBUTES, spansInValue } from '../html-addresses.ts'

/** A candidate for the address of a link. */
export interface Candidate {
  readonly address: string
  /** True for one that stands in a definition. */
  readonly isDefined: boolean
  /** True where the parser would read the same address here, if it reads one, and where it leads out of the site whatever follows. */
  readonly isExact: boolean
}

/**
 * A pattern of every address behind a bracket, and of more; never of less. On a new line it may stand behind the marks of a quotation.
 * None goes on over the next bracket, so that all that begin are found, in a time that grows with the text.
 */
const BEHIND_BRACKET =
  /\]([(:])[ \t]*([\r\n][\s>]*)?(?:<((?:[^<>\r\n\]]|\](?![(:]))*)>|((?:[^\s)\]]|\](?![(:]))*))(?=([\s\S]?))/y
/** The name of an attribute with an address, in front of its sign. */
const ATTRIBUTE = new RegExp(`(?:${ADDRESS_ATTRIBUTES.join('|')})$`, 'i')
const MOST_LETTERS = largest(ADDRESS_ATTRIBUTES, ({ length }) => length)
/** The value of an attribute, behind its sign. */
const VALUE = /([\s>]*)(?:"([^"]*)"|'([^']*)'|([^\s"'>=]*)(?=([\s\S]?)))/y

/** What makes another address of what is written: references, escapes, parentheses, lone signs, marks of a quotation. */
const UNCLEAR = /[&\\()<>\r\n\0]|%(?![\da-f]{2})/i
const isClear = (address: string): boolean => !UNCLEAR.test(address) || hasScheme(address)

/**
 * Every candidate for the address of a link: all that there are, and more. It is asked of every text of a site, so that brackets and
 * equals signs are looked for, which the engine does many times as fast as trying several names at each letter.
 */
export const findCandidates = (text: string): readonly Candidate[] => [...findBehindBrackets(text), ...findInHtml(text)]

function findBehindBrackets(text: string): Candidate[] {
  const candidates: Candidate[] = []
  for (let bracket = text.indexOf(']'), end = 0; bracket !== -1; bracket = text.indexOf(']', end)) {
    end = bracket + 1
    // Of other brackets the pattern need not be asked.
    if (text[end] !== '(' && text[end] !== ':') continue
    BEHIND_BRACKET.lastIndex = bracket
    const [whole = ']', mark, marks = '', pointed, plain = '', next = ''] = BEHIND_BRACKET.exec(text) ?? []
    end = bracket + whole.length
    const address = pointed ?? plain
    const isEnded = mark === '(' ? /[ \t\r\n)]/.test(next) : /^[ \t\r\n]?$/.test(next)
    candidates.push({ address, isDefined: mark === ':', isExact: isEnded && !marks.includes('>') && isClear(address) })
  }
  return candidates
}

function findInHtml(text: string): Candidate[] {
  const candidates: Candidate[] = []
  for (let sign = text.indexOf('='); sign !== -1; sign = text.indexOf('=', sign + 1)) {
    let end = sign
    while (/[\s>]/.test(text[end - 1] ?? '')) end--
    const [name] = ATTRIBUTE.exec(text.slice(Math.max(0, end - MOST_LETTERS), end)) ?? []
    if (name === undefined) continue
    VALUE.lastIndex = sign + 1
    const [, marks = '', double, single, bare = '', next = ''] = VALUE.exec(text) ?? []
    const isEnded = !marks.includes('>') && /^[ \t\r\n>]?$/.test(next)
    const value = double ?? single ?? bare
    for (const span of spansInValue(name, value)) {
      const address = value.slice(...span)
      candidates.push({ address, isDefined: false, isExact: isEnded && isClear(address) })
    }
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
  (text.includes('![') && /!\[[\s>]*\]/.test(text)) || (text.includes('<') && /<img/i.test(text))
