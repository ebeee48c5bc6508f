import type { Span } from '../../diagnostics/diagnostic.ts'
import type { Parsing } from './parsing.ts'
import { noteOf } from './token.ts'

/** A piece of raw HTML. */
interface RawPiece {
  readonly html: string
  readonly span: Span
}

/** Every piece of raw HTML in a text; comments are none. */
export function findRaw(parsing: Parsing): RawPiece[] {
  return parsing
    .whole()
    .flatMap((token, position): RawPiece[] => {
      if (token.type === 'html_block') {
        const lead = token.content.length - token.content.trimStart().length
        const html = token.content.trim().split('\n', 1)[0] ?? ''
        return [{ html, span: parsing.map().inline(position, [lead, lead + html.length]) }]
      }
      return (token.children ?? []).flatMap((child): RawPiece[] => {
        if (child.type !== 'html_inline') return []
        const at = noteOf(child).at ?? 0
        return [{ html: child.content, span: parsing.map().inline(position, [at, at + child.content.length]) }]
      })
    })
    .filter(({ html }) => !/^<!--.*-->$/s.test(html))
}
