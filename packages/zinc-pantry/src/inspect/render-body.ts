import type { SiteView } from '../engine/describe/site-view.ts'
import { overlayHost } from '../engine/overlay-host.ts'
import { readBytes } from '../engine/read-text.ts'
import { examineSite } from '../engine/run-site.ts'
import { createFinder } from '../link/linked-entries.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { InspectedSite } from './inspected-site.ts'
import { pictureType } from './picture-type.ts'

/** A body as it is drawn. */
export interface BodyPreview {
  /** The HTML of Markdown, with its pictures in it; null for MDX, which only the site itself can draw. */
  readonly html: string | null
  readonly format: 'markdown' | 'mdx' | 'none'
}

/** A larger picture is not put into the text. */
const MOST_BYTES = 4_000_000

/** How a body is drawn. */
export interface DrawingOptions {
  readonly site: InspectedSite
  /** A text that stands for the body. Default: that of the file. */
  readonly text?: string | undefined
}

/** Renders the body of an entry for a frame that can load nothing: pictures of the content stand in it. */
export async function renderBody(
  entry: LinkedEntry,
  view: SiteView,
  { site, text }: DrawingOptions,
): Promise<BodyPreview> {
  const { collection } = entry
  const holder = view.collectionOf(collection)
  if (!entry.body || !holder) return { html: null, format: 'none' }
  const tried = text === undefined ? undefined : await tryBody(entry, view, { site, text })
  const { rendering, drawn } = tried ?? { rendering: view.site.rendering, drawn: entry }
  const [body] = rendering.bodies({ collection: holder, entries: [drawn] })
  const result = (await body?.render())?.body
  if (result?.format !== 'markdown') return { html: null, format: result?.format ?? 'none' }
  return { html: embedPictures(JSON.parse(result.htmlJson) as string, view, site), format: 'markdown' }
}

/** The site with another text in the place of a body. */
async function tryBody(entry: LinkedEntry, view: SiteView, { site, text }: Required<DrawingOptions>) {
  const { file } = entry.locate([])
  const before = view.site.report.textOf(file)
  if (before === undefined || !entry.body) return undefined
  const whole = before.slice(0, entry.body.startOffset) + text
  const contents = new Map([[file, new TextEncoder().encode(whole)]])
  const { configurationFile } = site.followed
  const tried = await examineSite({
    ...{ host: overlayHost(site.host, contents), configurationFile, drafts: true, cache: false, isShared: true },
    seed: { memory: view.site.memory, changed: new Set([file]) },
  })
  const drawn = createFinder(tried.checked)(entry)
  return drawn && { rendering: tried.rendering, drawn }
}

/** HTML in which the pictures of the content stand themselves. */
function embedPictures(html: string, view: SiteView, { host }: InspectedSite): string {
  const { assetBase, content } = view.model
  const known = new Set(view.site.listing)
  return html.replace(/(<img\b[^<>]*?\bsrc=")([^"]+)(")/g, (all, start, address, end) => {
    const plain = decodeURI(String(address))
    const file = plain.startsWith(assetBase) ? plain.slice(assetBase.length) : plain
    const type = pictureType(file)
    const bytes = type !== undefined && known.has(file) ? readBytes(host, `${content}/${file}`) : undefined
    if (!bytes || bytes.length > MOST_BYTES) return String(all)
    return `${start}data:${type};base64,${Buffer.from(bytes).toString('base64')}${end}`
  })
}
