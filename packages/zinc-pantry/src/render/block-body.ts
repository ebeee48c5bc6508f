import type { Element } from 'hast'
import { toHtml } from 'hast-util-to-html'
import type { StoredBody } from '../query/open-site.ts'

/** A block in the data of an entry: its name under a key, and its properties. */
export type BlockData = Readonly<Record<string, unknown>>

/**
 * Blocks in the data of an entry as a body, to be drawn by the same components as blocks in bodies, by `renderHtml`,
 * `renderNodes` or `toTree`. `key` is that of the field, as in `block({ key: 'type' }, …)`. Default: `block`.
 *
 * @example
 * ```ts
 * import { bodyOfBlocks, renderHtml } from 'zinc-pantry/render'
 *
 * const panels = [{ block: 'map', centre: 'Gable Hut', zoom: 12 }]
 * const html = await renderHtml(bodyOfBlocks(panels), { blocks: { map: ({ centre }) => `<figure>${centre}</figure>` } })
 * console.log(html)
 * ```
 */
export function bodyOfBlocks(blocks: BlockData | readonly BlockData[] | null, key = 'block'): StoredBody {
  const all: readonly BlockData[] = Array.isArray(blocks) ? blocks : blocks ? [blocks as BlockData] : []
  const children = all.map(({ [key]: name, ...properties }): Element => {
    const attributes = { dataBlock: String(name), dataProperties: JSON.stringify(properties) }
    return { type: 'element', tagName: 'div', properties: attributes, children: [] }
  })
  return { format: 'markdown', html: toHtml({ type: 'root', children }) }
}
