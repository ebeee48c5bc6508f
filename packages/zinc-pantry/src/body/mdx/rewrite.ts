import type { Root } from 'mdast'
import type { Rewrite } from '../parsed-body.ts'
import { isJsx, visit } from './visit.ts'

/** Attributes of HTML that hold addresses. */
const ADDRESSES = ['href', 'src']

/** Gives links and images the addresses they have in the output. */
export function rewriteAddresses(tree: Root, rewrite: Rewrite): void {
  visit(tree, (node) => {
    if (node.type === 'link' || node.type === 'image' || node.type === 'definition') node.url = rewrite(node.url)
    if (!isJsx(node) || !/^[a-z]/.test(node.name ?? '')) return
    for (const attribute of node.attributes)
      if (
        attribute.type === 'mdxJsxAttribute' &&
        ADDRESSES.includes(attribute.name) &&
        typeof attribute.value === 'string'
      )
        attribute.value = rewrite(attribute.value)
  })
}
