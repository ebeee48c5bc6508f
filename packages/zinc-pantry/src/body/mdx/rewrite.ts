import type { Root } from 'mdast'
import { rewriteValue } from '../html-addresses.ts'
import type { Rewrite } from '../parsed-body.ts'
import { isJsx, linkAttributes, visit } from './visit.ts'

/** Gives links and images the addresses they have in the output. */
export function rewriteAddresses(tree: Root, rewrite: Rewrite): void {
  visit(tree, (node) => {
    if (node.type === 'link' || node.type === 'image' || node.type === 'definition') node.url = rewrite(node.url)
    if (!isJsx(node)) return
    for (const attribute of linkAttributes(node))
      attribute.value = rewriteValue(attribute.name, attribute.value, rewrite)
  })
}
