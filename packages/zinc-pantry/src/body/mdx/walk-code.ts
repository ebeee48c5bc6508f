import type { Node } from 'estree'

/** Calls a function for every node of code, those above first. */
export function walkCode(node: Node, found: (node: Node) => void): void {
  found(node)
  for (const value of Object.values(node) as unknown[])
    for (const one of Array.isArray(value) ? value : [value]) if (isNode(one)) walkCode(one, found)
}

const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && typeof (value as { readonly type?: unknown }).type === 'string'
