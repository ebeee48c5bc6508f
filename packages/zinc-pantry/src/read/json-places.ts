import { type Node, parseTree, visit } from 'jsonc-parser'
import type { Span } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import { LazyPlace, type PathSegment, type PlaceNode } from './document.ts'

const spanOf = (node: Node, base = 0): Span => [base + node.offset, base + node.offset + node.length]

/** The number of characters of a text, or of a value in it, up to which all places in it are worked out at once. */
const SMALL = 2 ** 14

/** The tree of places of a JSON text. Of a large text what is in its smaller parts is worked out when it is asked for. */
export function buildJsonPlaces(text: string, small = SMALL): PlaceNode {
  if (text.length > small) return buildLargePlaces(text, small)
  const tree = parseTree(text, [])
  return tree ? createPlace(tree) : { span: [0, 0] }
}

/** The place of a value of a text that starts at an offset of another. */
function createPlace(node: Node, base = 0): PlaceNode {
  const span = spanOf(node, base)
  if (node.type !== 'object' && node.type !== 'array') return { span }
  const children = new Map<PathSegment, PlaceNode>()
  for (const [position, child] of (node.children ?? []).entries()) {
    if (node.type === 'array') {
      children.set(position, createPlace(child, base))
      continue
    }
    const [key, value] = child.children ?? []
    if (!key || !value) continue
    const place = createPlace(value, base)
    place.key = spanOf(key, base)
    children.set(key.value as string, place)
  }
  return { span, opening: [span[0], span[0] + 1], children }
}

/** A group or list whose end is not read yet. */
interface OpenPlace {
  readonly start: number
  readonly isList: boolean
  readonly children: Map<PathSegment, PlaceNode>
  key: { readonly name: string; readonly span: Span } | undefined
  count: number
}

function buildLargePlaces(text: string, small: number): PlaceNode {
  const open: OpenPlace[] = []
  let root: PlaceNode = { span: [0, 0] }
  const add = (place: PlaceNode): void => {
    const parent = open.at(-1)
    if (!parent) root = place
    else if (parent.isList) parent.children.set(parent.count++, place)
    else if (parent.key) {
      place.key = parent.key.span
      parent.children.set(parent.key.name, place)
      parent.key = undefined
    }
  }
  const begin = (start: number, isList: boolean): void => {
    open.push({ start, isList, children: new Map(), key: undefined, count: 0 })
  }
  const end = (offset: number): void => {
    const closed = open.pop()
    if (!closed) return
    const { start, children } = closed
    const [span, opening]: [Span, Span] = [
      [start, offset],
      [start, start + 1],
    ]
    const isSmall = offset - start <= small
    add(isSmall ? new LazyPlace(span, opening, () => placesWithin(text, span)) : { span, opening, children })
  }
  visit(text, {
    onObjectBegin: (offset) => begin(offset, false),
    onArrayBegin: (offset) => begin(offset, true),
    onObjectEnd: (offset, length) => end(offset + length),
    onArrayEnd: (offset, length) => end(offset + length),
    onObjectProperty(name, offset, length) {
      const parent = open.at(-1)
      if (parent) parent.key = { name, span: [offset, offset + length] }
    },
    onLiteralValue: (_value, offset, length) => add({ span: [offset, offset + length] }),
  })
  // What is not closed goes to the end.
  while (open.length > 0) end(text.length)
  return root
}

/** The places in a part of a text. */
function placesWithin(text: string, [start, end]: Span): Map<PathSegment, PlaceNode> {
  const tree = parseTree(text.slice(start, end), [])
  return (tree && createPlace(tree, start).children) ?? new Map()
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
    for (const child of node.children?.slice(0, 10_000) ?? []) pending.push(child)
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
