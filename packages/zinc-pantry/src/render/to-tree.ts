import type { Element, Root } from 'hast'
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
  return { type: 'root', children: hastRuntime.toNodes(made) }
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
