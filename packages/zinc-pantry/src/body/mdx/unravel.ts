import type { Paragraph, Root, RootContent } from 'mdast'
import type { Node } from './visit.ts'
import { walkCode } from './walk-code.ts'

/**
 * The compiler's first step, without going through code in which no element stands: what is written as JSX is marked, since no
 * component of a page takes its place, and a paragraph of nothing but elements and expressions is no paragraph.
 */
export function unravel(tree: Root): void {
  visitChildren(tree)
}

function visitChildren(parent: { children: RootContent[] }): void {
  for (let at = 0; at < parent.children.length; at++) {
    const node = parent.children[at] as RootContent
    if (node.type === 'paragraph' && isUnravelled(node)) {
      const flow = node.children.flatMap(toFlow) as RootContent[]
      parent.children = [...parent.children.slice(0, at), ...flow, ...parent.children.slice(at + 1)]
      at--
      continue
    }
    mark(node)
    if ('children' in node) visitChildren(node as { children: RootContent[] })
  }
}

const isBlank = (value: string): boolean => /^[\t\n\r ]*$/.test(value)

function isUnravelled({ children }: Paragraph): boolean {
  let count = 0
  for (const child of children) {
    if (child.type === 'mdxJsxTextElement' || child.type === 'mdxTextExpression') count++
    else if (child.type !== 'text' || !isBlank(child.value)) return false
  }
  return count > 0
}

function toFlow(child: Paragraph['children'][number]): Node[] {
  const node = child as Node & { type: string }
  if (child.type === 'text' && /^[\t\r\n ]+$/.test(child.value)) return []
  if (child.type === 'mdxJsxTextElement') node.type = 'mdxJsxFlowElement'
  if (child.type === 'mdxTextExpression') node.type = 'mdxFlowExpression'
  return [node]
}

interface Marked {
  data?: object | undefined
}

function mark(node: RootContent): void {
  if (node.type === 'mdxJsxFlowElement' || node.type === 'mdxJsxTextElement') markExplicit(node)
  else if (node.type === 'mdxFlowExpression' || node.type === 'mdxTextExpression' || node.type === 'mdxjsEsm') {
    if (node.data?.estree && node.value.includes('<')) walkCode(node.data.estree, markElement)
  }
}

function markExplicit(node: Marked): void {
  node.data ??= {}
  Object.assign(node.data, { _mdxExplicitJsx: true })
}

/** JSX is none of the types of code. */
function markElement(node: { readonly type: string } & Marked): void {
  if (node.type === 'JSXElement') markExplicit(node)
}
