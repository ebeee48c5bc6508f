import type { Span } from '../../diagnostics/diagnostic.ts'
import type { BodyHeading, BodyLink, CodeFence } from '../body-summary.ts'
import { findAddresses } from '../html-addresses.ts'
import { idsInHtml, silentImagesInHtml } from '../html-tags.ts'
import { readCodeInfo } from './code-info.ts'
import { inlineLinks, silentImages } from './collect.ts'
import type { Parsing } from './parsing.ts'
import { linesOf } from './source-map.ts'
import type { Token } from './token.ts'

/** The links in tokens of a text, of those whose content is of concern. */
export const findLinks = (
  parsing: Parsing,
  tokens: readonly Token[],
  concerns: (content: string) => boolean,
): BodyLink[] =>
  tokens.flatMap((token, position): readonly BodyLink[] => {
    if (!/^(?:html_block|inline)$/.test(token.type) || !concerns(token.content)) return []
    const map = parsing.map()
    const place = (span: Span): Span => map.inline(position, span)
    if (token.type === 'html_block')
      return findAddresses(token.content).map(({ address, span }) => ({ href: address, span: place(span) }))
    return inlineLinks(parsing.children(token), { content: token.content, place })
  })

/** The headings of a text, with the places of what is written in them. */
export function findHeadings(parsing: Parsing): BodyHeading[] {
  const ids = parsing.headingIds()
  const tokens = parsing.blocks()
  const positions = tokens.flatMap(({ type }, position) => (type === 'heading_open' ? [position + 1] : []))
  return positions.map((position, at) => {
    const { content = '' } = tokens[position] ?? {}
    const depth = Number(tokens[position - 1]?.tag.slice(1))
    return { depth, id: ids[at] ?? '', text: content, span: parsing.map().inline(position, [0, content.length]) }
  })
}

/** The ids that HTML within a text gives. */
export const findIds = (tokens: readonly Token[]): string[] =>
  tokens.flatMap(({ type, content }) => (/html_block|inline/.test(type) ? idsInHtml(content) : []))

/** The pictures without an alternative text. */
export const findSilentImages = (parsing: Parsing, rawHtml: 'keep' | 'sanitise' | 'drop'): Span[] =>
  parsing.whole().flatMap(({ type, content, children }, position): readonly Span[] => {
    const hasRaw = rawHtml !== 'drop'
    const inHtml = type === 'html_block' && hasRaw ? silentImagesInHtml(content) : []
    const found = type === 'html_block' ? inHtml : silentImages(children ?? [], hasRaw)
    return found.map((span) => parsing.map().inline(position, span))
  })

/** The languages of fences that are not fine, where they are written. */
export function findFences(parsing: Parsing, text: string, isFine: (language: string) => boolean): CodeFence[] {
  const lines = linesOf(text)
  // A footnote that nobody refers to is not rendered, which only a parse of all lines tells.
  const tokens = text.includes('[^') ? parsing.whole() : parsing.blocks()
  return tokens.flatMap((token): CodeFence[] => {
    if (token.type !== 'fence') return []
    const { language } = readCodeInfo(parsing.unescape(token.info))
    const [start, line] = lines[token.map?.[0] ?? 0] ?? [0, '']
    const at = start + Math.max(0, line.indexOf(language))
    return language === '' || isFine(language) ? [] : [{ language, span: [at, at + language.length] }]
  })
}
