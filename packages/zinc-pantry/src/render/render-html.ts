import type { Element, ElementContent, Nodes, Root } from 'hast'
import { toHtml } from 'hast-util-to-html'
import type { StoredBody } from '../query/open-site.ts'
import { type Components, wantedBy } from './components.ts'
import { toTree } from './to-tree.ts'

/**
 * Renders a body to HTML with the site's own components, without any framework. A component is given the properties
 * of its node, `children` being HTML already, and gives HTML.
 *
 * @example
 * ```ts
 * import type { StoredBody } from 'zinc-pantry/query'
 * import { renderHtml } from 'zinc-pantry/render'
 *
 * const body: StoredBody = { format: 'markdown', html: '<p><img src="hut.jpg" alt="A hut" /></p>' }
 * const html = await renderHtml(body, { image: ({ src, alt }) => `<img src="/small/${src}" alt="${alt}" loading="lazy">` })
 * console.log(html)
 * ```
 */
export async function renderHtml(body: StoredBody, components: Components<never, string> = {}): Promise<string> {
  if (body.html !== null && Object.keys(components).length === 0) return body.html
  const tree = await toTree(body)
  return write({
    type: 'root',
    children: tree.children.map((node) => replace(node as ElementContent, components)),
  } as Root)
}

const write = (node: Nodes): string => toHtml(node, { allowDangerousHtml: true, closeSelfClosing: true })

/** Puts what components give in the place of their nodes, the innermost first. */
function replace(node: ElementContent, components: Components<never, string>): ElementContent {
  if (node.type !== 'element') return node
  const wanted = wantedBy(node)
  const component = wanted && (wanted.kind === 'block' ? components.blocks?.[wanted.name] : components[wanted.kind])
  // What is inside of an image with sources is all in its properties.
  const children = component && wanted?.kind === 'image' ? [] : node.children.map((child) => replace(child, components))
  if (!component) return { ...node, children } satisfies Element
  const inner = children.map(write).join('')
  const html = (component as (properties: object) => string)({ ...wanted.properties, children: inner })
  return { type: 'raw', value: html } as never
}
