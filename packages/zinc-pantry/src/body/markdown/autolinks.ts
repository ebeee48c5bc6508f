import type MarkdownIt from 'markdown-it'
import type { Token } from './token.ts'

/** Addresses with a scheme or `www.`, and email addresses, where the extension spec begins to look. */
const START =
  /(?<=^|[\s*_~(])(?:https?:\/\/|www\.)[^\s<]+|(?<=^|[^\w.+/-])(?:mailto:|xmpp:)?[\w.+-]+@[\w-]+(?:\.[\w-]+)+(?:\/(?<=xmpp:[^\s/]+\/)[\w@.]+)?/gi
const PREFIX = /^(?:https?:\/\/)?/i
/** Punctuation that ends a sentence rather than an address. */
const TRAILING = '?!.,:*_~\'"'

/** Links bare addresses, as the autolink extension of the extension spec has it. */
export function addAutolinks(markdown: MarkdownIt): void {
  markdown.core.ruler.push('autolinks', ({ tokens, Token: Make }) => {
    for (const token of tokens)
      if (token.children && hasAddress(token.content) && token.children.some(isCandidate))
        token.children = linkAll(token.children, Make)
  })
}

const hasAddress = (text: string): boolean => /:\/\/|www\.|@/i.test(text)

const isCandidate = ({ type, content }: Token): boolean => type === 'text' && hasAddress(content)

type TokenClass = new (type: string, tag: string, nesting: -1 | 0 | 1) => Token

function linkAll(tokens: readonly Token[], Make: TokenClass): Token[] {
  let depth = 0
  return tokens.flatMap((token) => {
    if (token.type === 'link_open' || /^<a[\s>]/i.test(token.content)) depth++
    if (token.type === 'link_close' || /^<\/a\s*>/i.test(token.content)) depth--
    return depth === 0 && isCandidate(token) ? linkText(token, Make) : [token]
  })
}

function linkText(token: Token, Make: TokenClass): Token[] {
  const text = token.content
  const parts: Token[] = []
  let end = 0
  const add = (type: string, content: string, nesting: -1 | 0 | 1 = 0): Token => {
    const part = new Make(type, nesting === 0 ? '' : 'a', nesting)
    part.level = token.level
    part.content = content
    parts.push(part)
    return part
  }
  for (const found of text.matchAll(START)) {
    if (found.index < end) continue
    const link = trimLink(found[0])
    if (!link) continue
    if (found.index > end) add('text', text.slice(end, found.index))
    const open = add('link_open', '', 1)
    open.attrs = [['href', addressOf(link)]]
    open.markup = 'autolink'
    open.info = 'auto'
    add('text', link)
    add('link_close', '', -1)
    end = found.index + link.length
  }
  if (end === 0) return [token]
  if (end < text.length) add('text', text.slice(end))
  return parts
}

const isEmail = (link: string): boolean => !/^(?:https?:\/\/|www\.)/i.test(link)

function addressOf(link: string): string {
  if (isEmail(link)) return /^(?:mailto|xmpp):/i.test(link) ? link : `mailto:${link}`
  const address = /^www\./i.test(link) ? `http://${link}` : link
  try {
    return encodeURI(decodeURI(address)).replaceAll('[', '%5B').replaceAll(']', '%5D')
  } catch {
    return encodeURI(address).replaceAll('%25', '%')
  }
}

/** Leaves out what the extension spec does not count as part of an address; undefined where it is none. */
function trimLink(found: string): string | undefined {
  if (isEmail(found)) return trimEmail(found)
  const link = found.slice(0, endOfAddress(found))
  const domain = link.replace(PREFIX, '').split(/[/?#:]/, 1)[0] ?? ''
  const segments = domain.split('.')
  const isDomain = segments.length > 1 || /^https?:/i.test(link)
  const isValid = segments.every((part) => /^[\p{L}\p{N}_-]+$/u.test(part))
  return isDomain && isValid && !segments.slice(-2).some((part) => part.includes('_')) ? link : undefined
}

/** Where an address ends: before signs of the sentence, entities, and a bracket that nothing in it opens. */
function endOfAddress(found: string): number {
  let end = found.length
  let unopened = countOf(found, ')') - countOf(found, '(')
  for (;;) {
    const entity = startOfEntity(found, end)
    if (entity !== undefined) end = entity
    else if (TRAILING.includes(found[end - 1] ?? ' ')) end--
    else if (found[end - 1] === ')' && unopened > 0) {
      end--
      unopened--
    } else return end
  }
}

const countOf = (text: string, sign: string): number => {
  let count = 0
  for (let at = text.indexOf(sign); at !== -1; at = text.indexOf(sign, at + 1)) count++
  return count
}

/** The start of an entity that ends at an offset. */
function startOfEntity(text: string, end: number): number | undefined {
  if (text[end - 1] !== ';') return undefined
  let at = end - 2
  while (at >= 0 && /[a-z\d]/i.test(text[at] ?? '')) at--
  return text[at] === '&' && at < end - 2 ? at : undefined
}

function trimEmail(found: string): string | undefined {
  const link = found.replace(/(?<!\.)\.+$/, '')
  return /[-_]$/.test(link) ? undefined : link
}
