import type { Nodes, Root } from 'mdast'
import type { MdxJsxFlowElement, MdxJsxTextElement } from 'mdast-util-mdx'
import { holdsAddress } from '../html-addresses.ts'

/** Any node of a tree of MDX. */
export type Node = Nodes

/** An element of JSX. */
export type JsxElement = MdxJsxFlowElement | MdxJsxTextElement

export const isJsx = (node: Node): node is JsxElement =>
  node.type === 'mdxJsxFlowElement' || node.type === 'mdxJsxTextElement'

/** Whether an attribute of an element of HTML holds a link; what components do with theirs is their matter. */
export const holdsLink = (element: string, attribute: string): boolean =>
  /^[a-z]/.test(element) && (attribute === 'href' || attribute === 'src' || holdsAddress(element, attribute))

/** Calls a function for every node, those above first. */
export function visit(tree: Root | undefined, found: (node: Node) => void): void {
  const walk = (node: Node): void => {
    found(node)
    if ('children' in node) for (const child of node.children) walk(child)
  }
  if (tree) walk(tree)
}

/** The text that a reader sees. */
export function textOf(node: Node): string {
  if (node.type === 'text' || node.type === 'inlineCode') return node.value.replaceAll(/\r?\n/g, ' ')
  if (node.type === 'image') return node.alt ?? ''
  if (node.type === 'break') return ' '
  return 'children' in node ? (node.children as readonly Node[]).map(textOf).join('') : ''
}

/** The span of a node in the text. */
export const spanOf = ({ position }: { readonly position?: Node['position'] }): [number, number] => [
  position?.start.offset ?? 0,
  position?.end.offset ?? 0,
]
