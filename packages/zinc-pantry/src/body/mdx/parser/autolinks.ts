import type { Link } from 'mdast'
import { unicodePunctuation, unicodeWhitespace } from 'micromark-util-character'
import { doubt } from '../doubt.ts'
import type { View } from './view.ts'

/** A text in which an address may be a link without any sign around it. */
export const STARTS_AUTOLINK = /:\/\/|www\.|[\w+\-.]@[\w.-]/i

const PROTOCOL = /https?:\/\//iy
/** Signs that may belong to what is around an address, and what must follow them for that: its end, a space or a tag. */
const TRAIL = /(?:[!"')*,.:;?_~]|\](?!\(|\[|\s|$)|&[A-Za-z]+;)*/y
const BEHIND_TRAIL = /$|[\s<]|\](?=\(|\[|\s|$)/y
const MAY_TRAIL = /[!"&')*,.:;<?\]_~]/

/**
 * Reads an address that is a link by itself, by the rules of GitHub's Markdown. Only those with a protocol are read; what else may be
 * one, an address of mail for instance, is left to the compiler.
 */
export function readAutolink(
  view: View,
  at: number,
  start: number,
  end: number,
): { readonly node: Link; readonly end: number } | undefined {
  const { text } = view
  const code = text.charCodeAt(at)
  if (code === 64) {
    if (at > start && /[\w+\-.]/.test(text[at - 1] as string) && /[\w.-]/.test(text[at + 1] ?? '')) doubt('mail')
    return undefined
  }
  if ((code | 32) === 119) {
    if (/^www\./i.test(text.slice(at, at + 4))) doubt('an address without a protocol')
    return undefined
  }
  if ((code | 32) !== 104) return undefined
  PROTOCOL.lastIndex = at
  const protocol = PROTOCOL.exec(text)?.[0]
  if (protocol === undefined || (at > start && /[A-Za-z]/.test(text[at - 1] as string))) return undefined
  const rest = text.slice(at, end)
  const isTrail = createTrailTest(rest)
  const domain = domainEnd(rest, protocol.length, isTrail)
  if (domain === -1) return undefined
  const address = rest.slice(0, pathEnd(rest, domain, isTrail))
  if (/[\\`{}|]/.test(address)) doubt('an address with signs')
  const to = at + address.length
  const children: Link['children'] = [{ type: 'text', value: address, position: view.position(at, to) }]
  return { node: { type: 'link', title: null, url: address, children, position: view.position(at, to) }, end: to }
}

/** Makes what tells, from the first offset to the last, whether an address ends there. A run of signs is looked at once. */
function createTrailTest(text: string): (at: number) => boolean {
  /** Up to where no address ends. */
  let inside = 0
  return (at) => {
    if (at < inside) return false
    TRAIL.lastIndex = at
    TRAIL.test(text)
    const end = TRAIL.lastIndex
    BEHIND_TRAIL.lastIndex = end
    if (BEHIND_TRAIL.test(text)) return true
    inside = end
    return false
  }
}

/** The end of a domain; -1 where there is none, or one with `_` in its last two parts. */
function domainEnd(text: string, start: number, isTrail: (at: number) => boolean): number {
  let at = start
  for (; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === 46 || code === 95) {
      if (isTrail(at)) break
    } else if (code <= 32 || unicodeWhitespace(code) || (code !== 45 && unicodePunctuation(code))) break
  }
  const domain = text.slice(start, at)
  if (domain === '' || unicodePunctuation(domain.charCodeAt(0))) return -1
  return domain
    .split('.')
    .slice(-2)
    .some((part) => part.includes('_'))
    ? -1
    : at
}

function pathEnd(text: string, start: number, isTrail: (at: number) => boolean): number {
  let opened = 0
  let closed = 0
  let at = start
  for (; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code <= 32 || unicodeWhitespace(code)) break
    const isBalanced = code === 41 && closed < opened
    if (!isBalanced && MAY_TRAIL.test(text[at] as string) && isTrail(at)) break
    if (code === 40) opened++
    if (code === 41) closed++
  }
  return at
}
