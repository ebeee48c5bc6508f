import type { Nodes as AnyNode, Root } from 'mdast'
import type { MdxJsxAttribute, MdxJsxFlowElement, MdxJsxTextElement } from 'mdast-util-mdx'
import { holdsAddress } from '../html-addresses.ts'

/** Any node of a tree of MDX. */
export type Node = AnyNode

/** An element of JSX. */
export type JsxElement = MdxJsxFlowElement | MdxJsxTextElement

export const isJsx = (node: Node): node is JsxElement =>
  node.type === 'mdxJsxFlowElement' || node.type === 'mdxJsxTextElement'

/** An attribute with a plain text. */
export type TextAttribute = MdxJsxAttribute & { value: string }

/** The attributes of an element of HTML that hold links; what components do with theirs is their matter. */
export function linkAttributes({ name, attributes }: JsxElement): TextAttribute[] {
  if (!name || !/^[a-z]/.test(name)) return []
  const holdsLink = (attribute: string): boolean =>
    attribute === 'href' || attribute === 'src' || holdsAddress(name, attribute)
  return attributes.filter(
    (one): one is TextAttribute =>
      one.type === 'mdxJsxAttribute' && typeof one.value === 'string' && holdsLink(one.name),
  )
}

/** A tree, or all its nodes, those above first: what asks for many things of a tree walks it once. */
export type Nodes = Root | readonly Node[]

/** All nodes of a tree, those above first. */
export function listNodes(tree: Root): readonly Node[] {
  const nodes: Node[] = []
  const walk = (node: Node): void => {
    nodes.push(node)
    if ('children' in node) for (const child of node.children) walk(child)
  }
  walk(tree)
  return nodes
}

/** Calls a function for every node, those above first. */
export function visit(nodes: Nodes | undefined, found: (node: Node) => void): void {
  if (nodes) for (const node of 'type' in nodes ? listNodes(nodes) : nodes) found(node)
}

/** The addresses of definitions, by their identifiers. */
export function definitionsOf(tree: Nodes | undefined): ReadonlyMap<string, string> {
  const definitions = new Map<string, string>()
  visit(tree, (node) => {
    // The first of several counts.
    if (node.type === 'definition' && !definitions.has(node.identifier)) definitions.set(node.identifier, node.url)
  })
  return definitions
}

/** The text that a reader sees. */
export function textOf(node: Node): string {
  if (node.type === 'text' || node.type === 'inlineCode') return node.value.replaceAll(/\r?\n/g, ' ')
  if (node.type === 'image' || node.type === 'imageReference') return node.alt ?? ''
  if (node.type === 'break') return ' '
  return 'children' in node ? (node.children as readonly Node[]).map(textOf).join('') : ''
}

/** The span of a node in the text. */
export const spanOf = ({ position }: { readonly position?: Node['position'] }): [number, number] => [
  position?.start.offset ?? 0,
  position?.end.offset ?? 0,
]
