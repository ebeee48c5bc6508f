import { applyContents } from '../engine/change-journal.ts'
import type { SiteView } from '../engine/describe/site-view.ts'
import { sniffKind } from '../read/sniff-kind.ts'
import type { InspectedSite } from './inspected-site.ts'
import { pictureType } from './picture-type.ts'

/** A picture that somebody puts into the content. */
export interface Upload {
  /** What it is called on the machine that it comes from. */
  readonly name: string
  /** Its bytes in Base64 (RFC 4648). */
  readonly data: string
}

/** The folder where nothing else says where pictures are. */
const FOLDER = 'pictures'

/** Puts a picture into the content, beside others; what is there stays. It can be undone as any change. */
export async function uploadPicture(
  { name, data }: Upload,
  view: SiteView,
  { host }: InspectedSite,
): Promise<{ readonly file: string } | { readonly refused: string; readonly help?: string }> {
  const bytes = Buffer.from(String(data), 'base64')
  const ending = /\.(\w+)$/.exec(String(name))?.[1]?.toLowerCase() ?? ''
  const kind = ending === 'jpg' ? 'jpeg' : ending
  if (pictureType(`x.${ending}`) === undefined || bytes.length === 0)
    return { refused: `${name} is no picture`, help: 'PNG, JPEG, WebP, AVIF, GIF and SVG are' }
  const seen = sniffKind(bytes, String(name))
  if (seen !== kind) return { refused: `${name} is no ${kind.toUpperCase()}: its bytes say something else` }
  const { listing } = view.site
  const folder = mostFrequentFolder(listing)
  const plain = String(name)
    .slice(0, -ending.length - 1)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z\d]+/g, '-')
    .replace(/^-|-$/g, '')
  const free = (at: number): string => `${folder}/${plain || 'picture'}${at === 1 ? '' : `-${at}`}.${ending}`
  let number = 1
  while (listing.includes(free(number))) number++
  const file = free(number)
  const path = `${view.model.content}/${file}`
  const applied = await applyContents(host, {
    words: `${file} is put in`,
    before: new Map([[path, undefined]]),
    after: new Map([[path, new Uint8Array(bytes)]]),
  })
  return 'changed' in applied ? { refused: `${file} is there already` } : { file }
}

/** The folder of the content that has most pictures. */
function mostFrequentFolder(listing: readonly string[]): string {
  const counts = new Map<string, number>()
  for (const file of listing)
    if (pictureType(file) !== undefined && file.includes('/')) {
      const folder = file.slice(0, file.lastIndexOf('/'))
      counts.set(folder, (counts.get(folder) ?? 0) + 1)
    }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? FOLDER
}
