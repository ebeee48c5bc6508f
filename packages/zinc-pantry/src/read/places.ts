import type { Span } from '../diagnostics/diagnostic.ts'
import type { PlaceNode } from './document.ts'

/** A tree of places of a part of a text, as places of the whole. */
export function shiftPlaces(node: PlaceNode, offset: number): PlaceNode {
  if (offset === 0) return node
  const shift = ([start, end]: Span): Span => [start + offset, end + offset]
  return {
    span: shift(node.span),
    ...(node.key ? { key: shift(node.key) } : {}),
    ...(node.opening ? { opening: shift(node.opening) } : {}),
    ...(node.children
      ? { children: new Map(Array.from(node.children, ([step, child]) => [step, shiftPlaces(child, offset)])) }
      : {}),
  }
}
