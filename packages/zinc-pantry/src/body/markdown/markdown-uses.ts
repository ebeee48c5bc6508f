import type { Span } from '../../diagnostics/diagnostic.ts'
import type { BlockUse } from '../body-summary.ts'
import type { SourceMap } from './source-map.ts'
import { noteOf, type RawUse, type Token } from './token.ts'

/** A directive with the way from its own offsets to those of the text. */
export interface PlacedUse {
  readonly use: RawUse
  place(span: Span): Span
}

/** The directives of a text, in order. */
export function findUses(tokens: readonly Token[], map: SourceMap): PlacedUse[] {
  return tokens.flatMap((token, position): PlacedUse[] => {
    const { use } = noteOf(token)
    if (use) return [{ use, place: ([start, end]) => [map.plain(start), map.plain(end)] }]
    return (token.children ?? []).flatMap((child) => {
      const inner = noteOf(child).use
      return inner ? [{ use: inner, place: (span: Span) => map.inline(position, span) }] : []
    })
  })
}

/** A directive as a use of a block. */
export const createUse = (
  use: RawUse,
  { blocks, takesAny }: { readonly blocks: readonly string[]; readonly takesAny: boolean },
  place: (span: Span) => Span,
): BlockUse => ({
  name: use.name,
  ...(takesAny || blocks.includes(use.name) ? { block: use.name } : {}),
  values: Object.fromEntries(use.attributes.map(({ name, value }) => [name, value])),
  hasCells: true,
  open: [],
  span: place(use.span),
  places: use.attributes.map(({ name, key, span }) => ({ name, key: place(key), value: place(span) })),
})
