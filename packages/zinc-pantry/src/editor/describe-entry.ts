import { labelOf } from '../change/entry-choices.ts'
import { pageAddress, qualifiedId } from '../link/pages.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { EditorSite } from './editor-site.ts'

/** The files that are pictures, by their names. */
export const PICTURE = /\.(?:avif|gif|jpe?g|png|svg|webp)$/i

/** A picture of the content folder, in Markdown; nothing where the root has no path. */
export const showPicture = ({ root, model }: EditorSite, path: string): string[] =>
  root === undefined
    ? []
    : [`![](file://${`${root}/${model.content}/${path}`.split('/').map(encodeURIComponent).join('/')})`]

/** Of an entry so many values are shown. */
const MOST_VALUES = 6

/** What a writer wants to know of an entry that something leads to, in Markdown: its main values and a picture. */
export function describeEntry(editorSite: EditorSite, entry: LinkedEntry): string {
  const { model } = editorSite
  const collection = model.collections.find(({ name }) => name === entry.collection)
  const data = entry.data ?? entry.part ?? {}
  const shown = Object.entries(collection?.fields ?? {})
    .flatMap(([name, field]) => {
      const value = data[name]
      const isSimple = value !== null && value !== undefined && typeof value !== 'object'
      return isSimple && !childrenOf(field).fields ? [`- ${field.options.label ?? name}: ${clip(String(value))}`] : []
    })
    .slice(0, MOST_VALUES)
  const picture = entry.assets.find((path) => PICTURE.test(path))
  const address = collection && pageAddress({ data: entry.data }, collection)
  return [
    `**${collection ? labelOf(entry, collection) : entry.id}** · ${qualifiedId(entry)}`,
    ...(picture === undefined ? [] : showPicture(editorSite, picture)),
    ...(shown.length > 0 ? [shown.join('\n')] : []),
    ...(address ? [`Page: ${address}`] : []),
    ...(entry.data ? [] : ['It has errors of its own.']),
  ].join('\n\n')
}

const clip = (text: string): string => (text.length > 120 ? `${text.slice(0, 119)}…` : text).replaceAll('\n', ' ')
