import type { Image, ImageReference, Root } from 'mdast'
import { rewriteValue } from '../html-addresses.ts'
import type { Rewrite } from '../parsed-body.ts'
import { definitionsOf, isJsx, linkAttributes, visit } from './visit.ts'

/** The attribute by which an image carries its sources to the step that makes its HTML. */
export const SOURCES = 'dataSources'

/** Gives links and images the addresses they have in the output, and images what is made of them. */
export function rewriteAddresses(tree: Root, rewrite: Rewrite): void {
  const { picture } = rewrite
  if (picture) addPictures(tree, picture)
  visit(tree, (node) => {
    if (node.type === 'link' || node.type === 'image' || node.type === 'definition') node.url = rewrite(node.url)
    if (!isJsx(node)) return
    for (const attribute of linkAttributes(node))
      attribute.value = rewriteValue(attribute.name, attribute.value, rewrite)
  })
}

/** Gives images their sizes, and the sources that are made of them. */
function addPictures(tree: Root, picture: NonNullable<Rewrite['picture']>): void {
  const definitions = definitionsOf(tree)
  const add = (node: Image | ImageReference, address: string): void => {
    const found = picture(address)
    if (!found) return
    const { width, height, sources } = found
    node.data = { ...node.data, hProperties: { width, height, [SOURCES]: JSON.stringify(sources) } }
  }
  visit(tree, (node) => {
    if (node.type === 'image') add(node, node.url)
    if (node.type === 'imageReference') add(node, definitions.get(node.identifier) ?? '')
  })
}
