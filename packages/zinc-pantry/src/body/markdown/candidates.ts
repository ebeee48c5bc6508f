import { ADDRESS_ATTRIBUTES } from '../html-addresses.ts'

/** A pattern of every address in a text, and of more; never of less. */
const CANDIDATE = new RegExp(
  String.raw`\]\(\s*([^\s)]*)|\]:\s*(\S+)|(?:${ADDRESS_ATTRIBUTES.join('|')})\s*=\s*(?=(?:"([^"]*)"|'([^']*)'|([^\s"'>]*)))`,
  'gi',
)

/** Every candidate for the address of a link, and whether it stands in a definition. */
export const findCandidates = (text: string): { address: string; isDefined: boolean }[] =>
  Array.from(text.matchAll(CANDIDATE)).flatMap(([, inline, defined, double, single, bare]) => {
    const address = inline ?? defined ?? double ?? single ?? bare ?? ''
    // An attribute may hold many, each with a width behind it.
    const parts = /[\s,]/.test(address) ? address.split(/[\s,]+/) : []
    return [address, ...parts].map((part) => ({ address: part, isDefined: defined !== undefined }))
  })

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
