import type { SiteView } from '../engine/describe/site-view.ts'
import { readBytes } from '../engine/read-text.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { InspectedSite } from './inspected-site.ts'

/** A body as it is drawn. */
export interface BodyPreview {
  /** The HTML of Markdown, with its pictures in it; null for MDX, which only the site itself can draw. */
  readonly html: string | null
  readonly format: 'markdown' | 'mdx' | 'none'
}

/** A larger picture is not put into the text. */
const MOST_BYTES = 4_000_000

const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  avif: 'image/avif',
  svg: 'image/svg+xml',
}

/** The media type of a picture by its name; undefined for other files. */
export const pictureType = (file: string): string | undefined =>
  TYPES[file.slice(file.lastIndexOf('.') + 1).toLowerCase()]

/** Renders the body of an entry for a frame that can load nothing: pictures of the content stand in it. */
export async function renderBody(entry: LinkedEntry, view: SiteView, { host }: InspectedSite): Promise<BodyPreview> {
  const { collection } = entry
  const holder = view.collectionOf(collection)
  if (!entry.body || !holder) return { html: null, format: 'none' }
  const [body] = view.site.rendering.bodies({ collection: holder, entries: [entry] })
  const result = (await body?.render())?.body
  if (result?.format !== 'markdown') return { html: null, format: result?.format ?? 'none' }
  const { assetBase, content } = view.model
  const known = new Set(view.site.listing)
  const html = (JSON.parse(result.htmlJson) as string).replace(
    /(<img\b[^>]*?\bsrc=")([^"]+)(")/g,
    (all, start, address, end) => {
      const plain = decodeURI(String(address))
      const file = plain.startsWith(assetBase) ? plain.slice(assetBase.length) : plain
      const type = pictureType(file)
      const bytes = type !== undefined && known.has(file) ? readBytes(host, `${content}/${file}`) : undefined
      if (!bytes || bytes.length > MOST_BYTES) return String(all)
      return `${start}data:${type};base64,${Buffer.from(bytes).toString('base64')}${end}`
    },
  )
  return { html, format: 'markdown' }
}
