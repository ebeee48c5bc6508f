import type { Span } from '../../diagnostics/diagnostic.ts'
import { findAddresses } from '../html-addresses.ts'
import type { BodyLink } from '../parsed-body.ts'
import type { Parsing } from './parsing.ts'
import { linesOf } from './source-map.ts'
import { noteOf, type Token } from './token.ts'

/** A piece of raw HTML. */
interface RawPiece {
  readonly html: string
  readonly span: Span
}

/** Every piece of raw HTML in a text; comments are none. */
export function findRaw(parsing: Parsing, text: string): RawPiece[] {
  return parsing
    .whole()
    .flatMap((token, position): RawPiece[] => {
      if (token.type === 'html_block') {
        const start = blockStart(token, text)
        const html = token.content.trim().split('\n', 1)[0] ?? ''
        return [{ html, span: [start, start + html.length] }]
      }
      return (token.children ?? []).flatMap((child): RawPiece[] => {
        if (child.type !== 'html_inline') return []
        const at = noteOf(child).at ?? 0
        return [{ html: child.content, span: parsing.map().inline(position, [at, at + child.content.length]) }]
      })
    })
    .filter(({ html }) => !/^<!--.*-->$/s.test(html))
}

/** Where the first line of a block of raw HTML stands. */
function blockStart(token: Token, text: string): number {
  const [start = 0] = linesOf(text)[token.map?.[0] ?? 0] ?? []
  const found = text.indexOf(token.content.trim().split('\n', 1)[0] ?? '', start)
  return Math.max(start, found)
}

/** The links in a block of raw HTML. */
export function blockLinks(token: Token, text: string): BodyLink[] {
  const base = blockStart(token, text) - (token.content.length - token.content.trimStart().length)
  return findAddresses(token.content).map(({ address, span }) => ({
    href: address,
    span: [base + span[0], base + span[1]],
  }))
}
