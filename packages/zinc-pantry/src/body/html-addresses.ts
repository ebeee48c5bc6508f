import type { Span } from '../diagnostics/diagnostic.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'
import { findTags } from './html-tags.ts'

/** An address in HTML. */
export interface HtmlAddress {
  /** The element, in lower case. */
  readonly element: string
  /** The attribute, in lower case. */
  readonly attribute: string
  /** Its value, character references being read. */
  readonly address: string
  /** Where it is written. */
  readonly span: Span
  /** The quotes around the attribute, if there are any. */
  readonly quote: string
}

/** Attributes that lead to a page or a file to be seen, by the HTML standard, and the elements on which they do. */
const ATTRIBUTES: Readonly<Record<string, readonly string[]>> = {
  href: ['a', 'area'],
  src: ['img', 'video', 'audio', 'source', 'track', 'iframe', 'embed'],
  srcset: ['img', 'source'],
  poster: ['video'],
  data: ['object'],
  cite: ['blockquote', 'q', 'del', 'ins'],
}

/** The attributes that do on any element. */
export const ADDRESS_ATTRIBUTES: readonly string[] = Object.keys(ATTRIBUTES)

/** Whether an attribute holds an address, or many. */
export const holdsAddress = (element: string, attribute: string): boolean =>
  ATTRIBUTES[attribute.toLowerCase()]?.includes(element.toLowerCase()) === true

/** Every address in a piece of HTML, in order. */
export const findAddresses = (html: string): HtmlAddress[] =>
  findTags(html).flatMap(({ element, attributes }) =>
    attributes.flatMap(({ name, value, span, quote }): HtmlAddress[] => {
      if (!span || !holdsAddress(element, name)) return []
      const written = html.slice(...span)
      return spansInValue(name, written).map(([from, to]) => {
        const isWhole = from === 0 && to === written.length
        const address = isWhole ? value : readReferences(written.slice(from, to))
        return { element, attribute: name, address, span: [span[0] + from, span[0] + to], quote }
      })
    }),
  )

/** Puts other addresses into HTML. What stays the same stays as it is written. */
export const rewriteHtml = (html: string, rewrite: (address: string) => string): string =>
  replaceSpans(html, findAddresses(html), ({ address, span, quote }) => {
    const other = rewrite(address)
    if (other === address) return html.slice(...span)
    const escaped = other.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll("'", '&#39;')
    return quote === '' ? `"${escaped}"` : escaped
  })

/** Puts other addresses into the value of an attribute that holds one, or many. */
export const rewriteValue = (attribute: string, value: string, rewrite: (address: string) => string): string =>
  replaceSpans(
    value,
    spansInValue(attribute, value).map((span) => ({ span })),
    ({ span }) => rewrite(value.slice(...span)),
  )

/**
 * Where the addresses of the value of an attribute are. A list of image candidates has many, each of which may have a width
 * or a density behind a space.
 */
export function spansInValue(attribute: string, value: string): Span[] {
  if (!/^srcset$/i.test(attribute)) return [[0, value.length]]
  const spans: Span[] = []
  for (let at = after(/[\s,]*/y, value, 0); at < value.length; at = after(/[\s,]*/y, value, at)) {
    const start = at
    at = after(/\S*/y, value, start)
    let end = at
    while (value[end - 1] === ',') end--
    spans.push([start, end])
    // What a comma does not end has a width behind it.
    if (end === at) at = after(/[^,]*/y, value, at)
  }
  return spans
}

/** Where what a pattern takes from a place on ends. */
function after(pattern: RegExp, text: string, at: number): number {
  pattern.lastIndex = at
  pattern.test(text)
  return pattern.lastIndex
}

/** Reads character references in a part of a value. */
export const readReferences = (text: string): string =>
  text.includes('&') ? (findTags(`<a b="${text.replaceAll('"', '&quot;')}">`)[0]?.attributes[0]?.value ?? text) : text
