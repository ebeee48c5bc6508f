import type { Element, ElementContent, Root } from 'hast'
import { fromHtml } from 'hast-util-from-html'
import type { StoredBody } from '../query/open-site.ts'
import { hastRuntime } from './hast-runtime.ts'

/**
 * A body as a tree in the open hast form, for any framework. A block is a `div`, or a `span` within a line, with
 * `dataBlock` and `dataProperties`. Compiled MDX is run; its components are called as plain functions.
 *
 * @example
 * ```ts
 * import type { StoredBody } from 'zinc-pantry/query'
 * import { toTree } from 'zinc-pantry/render'
 *
 * const body: StoredBody = { format: 'markdown', html: '<p>Mind the bog.</p>' }
 * const tree = await toTree(body)
 * console.log(tree.children.length)
 * ```
 */
export async function toTree(body: StoredBody): Promise<Root> {
  if (!body.compiled) return fromHtml(body.html ?? '', { fragment: true })
  const blocks = Object.entries(body.components ?? {}).map(([name, block]) => [name, blockElement(block)])
  const { default: content } = await body.compiled(hastRuntime)
  const made = (content as (properties: object) => never)({ components: Object.fromEntries(blocks) })
  return { type: 'root', children: hastRuntime.toNodes(made).map((node) => fitBlocks(node, false)) }
}

/** The elements in which the HTML standard allows phrasing content only. */
const PHRASING = new Set(
  'abbr b bdi bdo button cite code data dfn em h1 h2 h3 h4 h5 h6 i kbd label legend mark meter output p pre progress q rp rt ruby s samp small span strong sub summary sup time u var'.split(
    ' ',
  ),
)
/** The elements whose content is that of the element around them. */
const TRANSPARENT = new Set(['a', 'del', 'ins', 'map'])

/** Makes blocks within a line a `span`: compiled MDX does not say where it uses a component. */
function fitBlocks(node: ElementContent, isWithinLine: boolean): ElementContent {
  if (node.type !== 'element') return node
  const tagName = isWithinLine && node.properties.dataBlock !== undefined ? 'span' : node.tagName
  const isPhrasing = PHRASING.has(tagName) || (isWithinLine && TRANSPARENT.has(tagName))
  return { ...node, tagName, children: node.children.map((child) => fitBlocks(child, isPhrasing)) }
}

/** The element of a block in a tree. */
const blockElement =
  (name: string) =>
  ({ children, ...properties }: Readonly<Record<string, unknown>>): Element => ({
    type: 'element',
    tagName: 'div',
    properties: { dataBlock: name, dataProperties: JSON.stringify(properties) },
    children: hastRuntime.toNodes(children as never),
  })
