import type { Span } from '../../diagnostics/diagnostic.ts'
import type { LinkExcerpt, WrittenFacts } from '../../schema/body-facts.ts'
import type { BodyLink } from '../body-summary.ts'
import { findAddresses } from '../html-addresses.ts'
import { silentImagesInHtml } from '../html-tags.ts'
import { countWords, createFacts, cutExcerpt, NO_EXCERPT } from '../text-facts.ts'
import { noteOf, plainText, type Token, tokenText } from './token.ts'

const MORE = /^<!--\s*more\s*-->\s*$/

/** Links in the children of an inline token; `place` leads from its content to the text. */
export function inlineLinks(
  children: readonly Token[],
  { content, place }: { readonly content: string; place(span: Span): Span },
): BodyLink[] {
  const links: BodyLink[] = []
  const closings = findClosings(children)
  for (const token of children) {
    const href =
      token.type === 'link_open' ? token.attrGet('href') : token.type === 'image' ? token.attrGet('src') : null
    if (href !== null) {
      const start = noteOf(token).at ?? 0
      const labelEnd =
        token.type === 'image' ? start + 2 + token.content.length : (noteOf(closings.get(token) ?? token).at ?? start)
      const first = token.type === 'image' ? start : start - 1
      links.push({ href, span: place(addressSpan(content, first, labelEnd)) })
    }
    if (token.type === 'html_inline')
      for (const { address, span } of findAddresses(token.content)) {
        const start = noteOf(token).at ?? 0
        links.push({ href: address, span: place([start + span[0], start + span[1]]) })
      }
  }
  return links
}

/** Where pictures without an alternative text stand in the content of an inline token. */
export const silentImages = (children: readonly Token[], hasRaw: boolean): Span[] =>
  children.flatMap((token): Span[] => {
    const at = noteOf(token).at ?? 0
    if (token.type === 'image' && plainText(token.children ?? []).trim() === '')
      return [[at, at + 3 + token.content.length]]
    if (token.type !== 'html_inline' || !hasRaw) return []
    return silentImagesInHtml(token.content).map(([start, end]) => [at + start, at + end])
  })

/** The tokens that close links, by those that open them. */
function findClosings(children: readonly Token[]): ReadonlyMap<Token, Token> {
  const closings = new Map<Token, Token>()
  const open: Token[] = []
  for (const token of children) {
    if (token.type === 'link_open') open.push(token)
    const opening = token.type === 'link_close' ? open.pop() : undefined
    if (opening) closings.set(opening, token)
  }
  return closings
}

/** The address behind a label, or the whole link where the address stands elsewhere. */
function addressSpan(content: string, first: number, labelEnd: number): Span {
  const found = /^\]\(\s*(?:<([^<>\n]*)>|([^\s)]+))/.exec(content.slice(labelEnd))
  if (!found) {
    const rest = /^\](?:\[[^\]]*\])?/.exec(content.slice(labelEnd))
    return [first, labelEnd + (rest?.[0].length ?? 1)]
  }
  const length = (found[1] ?? found[2] ?? '').length
  const end = labelEnd + found[0].length - (found[1] === undefined ? 0 : 1)
  // Parentheses in pairs belong to an address.
  const more = found[1] === undefined ? restOfAddress(content, end - length, end) : 0
  return [end - length, end + more]
}

function restOfAddress(content: string, start: number, end: number): number {
  let depth = 0
  let at = start
  for (; at < content.length && !/\s/.test(content[at] ?? ''); at++) {
    if (content[at] === '(') depth++
    else if (content[at] === ')' && depth-- === 0) break
  }
  return Math.max(0, at - end)
}

/** Where a link stands in a plain text. */
interface LinkSpan {
  readonly address: string
  readonly start: number
  end: number
}

/** The facts of a text that is parsed whole. */
export function describeTokens(
  tokens: readonly Token[],
  {
    blocks,
    hasRaw,
    hasExcerpts,
  }: { readonly blocks: readonly string[]; readonly hasRaw: boolean; readonly hasExcerpts: boolean },
): WrittenFacts {
  const links = new Map<string, LinkExcerpt>()
  const images: WrittenFacts['images'][number][] = []
  const headings: { id: string; text: string; depth: number }[] = []
  const paragraphs: string[] = []
  let words = 0
  let marked: number | undefined
  /** Begins a link; it counts where its address is seen for the first time. */
  const begin = (address: string, at: number, counted: LinkSpan[]): LinkSpan => {
    const span = { address, start: at, end: at }
    if (!links.has(address)) {
      links.set(address, NO_EXCERPT)
      counted.push(span)
    }
    return span
  }
  /** Looks into the tokens of a text, and gives it. */
  const visit = (parts: readonly Token[]): string => {
    const open: LinkSpan[] = []
    const counted: LinkSpan[] = []
    let text = ''
    for (const token of parts) {
      const { type, content } = token
      if (type === 'text') {
        text += content
        continue
      }
      if (type === 'link_open') open.push(begin(token.attrGet('href') ?? '', text.length, counted))
      else if (type === 'link_close') {
        const span = open.pop()
        if (span) span.end = text.length
      } else if (type === 'image')
        images.push({ src: token.attrGet('src') ?? '', alt: plainText(token.children ?? []) })
      else if (type === 'html_inline' || type === 'html_block') visitRaw(content, text.length, counted)
      text += tokenText(token)
    }
    if (hasExcerpts) for (const { address, start, end } of counted) links.set(address, cutExcerpt(text, start, end))
    return text
  }
  const visitRaw = (html: string, at: number, counted: LinkSpan[]): void => {
    if (MORE.test(html)) marked ??= paragraphs.length
    if (!hasRaw) return
    for (const { attribute, element, address } of findAddresses(html)) {
      if (attribute === 'href') begin(address, at, counted)
      else if (element === 'img' && attribute === 'src') images.push({ src: address, alt: '' })
    }
  }
  for (let position = 0; position < tokens.length; position++) {
    const token = tokens[position] as Token
    if (token.type === 'html_block') visit([token])
    if (token.type !== 'inline') continue
    const text = visit(token.children ?? []).trim()
    words += countWords(text)
    const before = tokens[position - 1]
    if (before?.type === 'paragraph_open') paragraphs.push(text)
    else if (before?.type === 'heading_open')
      headings.push({ id: String(before.attrGet('id') ?? ''), text, depth: Number(before.tag.slice(1)) })
  }
  return createFacts({ headings, links, hasExcerpts, images, blocks, paragraphs, marked, words })
}

/** The plain text of parsed Markdown, a line for each paragraph, heading, cell and piece of code. */
export const textOfTokens = (tokens: readonly Token[]): string =>
  tokens
    .flatMap(({ type, content, children }) => {
      if (type === 'inline') return [plainText(children ?? []).trim()]
      return type === 'fence' || type === 'code_block' ? [content.trim()] : []
    })
    .join('\n')
