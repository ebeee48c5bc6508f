import { type Node, parseTree } from 'jsonc-parser'
import type { Span } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import type { PathSegment, PlaceNode } from './document.ts'

const spanOf = (node: Node): Span => [node.offset, node.offset + node.length]

/** The tree of places of a JSON text. */
export function buildJsonPlaces(text: string): PlaceNode {
  const tree = parseTree(text, [])
  return tree ? createPlace(tree) : { span: [0, 0] }
}

function createPlace(node: Node): PlaceNode {
  const span = spanOf(node)
  if (node.type !== 'object' && node.type !== 'array') return { span }
  const children = new Map<PathSegment, PlaceNode>()
  for (const [position, child] of (node.children ?? []).entries()) {
    if (node.type === 'array') {
      children.set(position, createPlace(child))
      continue
    }
    const [key, value] = child.children ?? []
    if (!key || !value) continue
    const place = createPlace(value)
    place.key = spanOf(key)
    children.set(key.value as string, place)
  }
  return { span, opening: [span[0], span[0] + 1], children }
}

/** The value of a tree, for a text that has only faults that a reader can see past. */
export function valueOfTree(node: Node): unknown {
  if (node.type === 'array') return (node.children ?? []).map(valueOfTree)
  if (node.type !== 'object') return node.value
  const group: Record<string, unknown> = {}
  for (const property of node.children ?? []) {
    const [key, value] = property.children ?? []
    if (key && value) setOwn(group, key.value as string, valueOfTree(value))
  }
  return group
}

/** A key that stands twice in one object. */
export interface DuplicateKey {
  readonly key: string
  readonly span: Span
  readonly first: Span
}

/** Every key of a text that stands a second time in its object. */
export function findDuplicateKeys(text: string): DuplicateKey[] {
  const found: DuplicateKey[] = []
  const pending: Node[] = []
  const tree = parseTree(text, [])
  if (tree) pending.push(tree)
  for (let node = pending.pop(); node; node = pending.pop()) {
    if (node.children) pending.push(...node.children.slice(0, 10_000))
    if (node.type !== 'object') continue
    const seen = new Map<string, Span>()
    for (const property of node.children ?? []) {
      const key = property.children?.[0]
      if (!key) continue
      const first = seen.get(key.value as string)
      if (first) found.push({ key: key.value as string, span: spanOf(key), first })
      else seen.set(key.value as string, spanOf(key))
    }
  }
  return found
}
