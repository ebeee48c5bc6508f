import { type Token, Tokenizer, TokenizerMode } from 'parse5'
import type { Span } from '../diagnostics/diagnostic.ts'

/** An attribute of a tag, its places being offsets in the HTML. */
export interface HtmlAttribute {
  /** In lower case. */
  readonly name: string
  /** Its value, character references being read. */
  readonly value: string
  /** Where its value is written, without quotes; undefined where it has none. */
  readonly span: Span | undefined
  /** The quotes around the value, if there are any. */
  readonly quote: string
}

/** A start tag. */
export interface HtmlTag {
  /** The element, in lower case. */
  readonly element: string
  readonly span: Span
  readonly attributes: readonly HtmlAttribute[]
}

/** The tokenizer's state inside of elements whose text is no HTML: a parser would set it, and here there is none. */
const RAW: ReadonlyMap<string, Tokenizer['state']> = new Map([
  ['script', TokenizerMode.SCRIPT_DATA],
  ...['style', 'xmp', 'iframe', 'noembed', 'noframes'].map((name) => [name, TokenizerMode.RAWTEXT] as const),
  ['title', TokenizerMode.RCDATA],
  ['textarea', TokenizerMode.RCDATA],
])

const ignore = (): void => undefined

/** Every start tag in a piece of HTML, in order, as the tokenizer of the HTML standard finds them. */
export function findTags(html: string): HtmlTag[] {
  const tags: HtmlTag[] = []
  if (!html.includes('<')) return tags
  const tokenizer = new Tokenizer(
    { sourceCodeLocationInfo: true },
    {
      onStartTag(token) {
        tags.push(createTag(token, html))
        const mode = token.selfClosing ? undefined : RAW.get(token.tagName)
        if (mode !== undefined) tokenizer.state = mode
      },
      onEndTag: ignore,
      onComment: ignore,
      onDoctype: ignore,
      onEof: ignore,
      onCharacter: ignore,
      onNullCharacter: ignore,
      onWhitespaceCharacter: ignore,
    },
  )
  tokenizer.write(html, true)
  return tags
}

function createTag({ tagName: element, attrs, location }: Token.TagToken, html: string): HtmlTag {
  const places = location?.attrs ?? {}
  const attributes = attrs.map(({ name, value }): HtmlAttribute => {
    const place = Object.hasOwn(places, name) ? places[name] : undefined
    if (!place) return { name, value, span: undefined, quote: '' }
    const written = html.slice(place.startOffset, place.endOffset)
    const [lead = '', quote = ''] = /^[^=]*=\s*(["']?)/.exec(written) ?? []
    if (lead === '') return { name, value, span: undefined, quote }
    return { name, value, span: [place.startOffset + lead.length, place.endOffset - quote.length], quote }
  })
  return { element, span: [location?.startOffset ?? 0, location?.endOffset ?? 0], attributes }
}

/** Ids that HTML gives to what fragments may name. */
export const idsInHtml = (html: string): string[] =>
  findTags(html).flatMap(({ attributes }) =>
    attributes.flatMap(({ name, value }) => (name === 'id' || name === 'name' ? [value] : [])),
  )

/** Where pictures stand in HTML that have no alternative text, not even an empty one. */
export const silentImagesInHtml = (html: string): Span[] =>
  findTags(html).flatMap(({ element, attributes, span }) =>
    element === 'img' && !attributes.some(({ name }) => name === 'alt') ? [span] : [],
  )
