import type { Picture, Rewrite } from '../body/parsed-body.ts'
import type { LinkTarget } from '../link/link-resolver.ts'
import type { Rendition } from '../schema/image-sources.ts'

/** The address of a link in the output. */
export interface OutputAddress {
  readonly address: string
  /** The file of the content folder that it leads to. */
  readonly file: string | undefined
  /** True for what is not published, and so has no address. */
  readonly isHidden: boolean
  /** What is made of it, where it is an image of a collection that asks for that. */
  readonly made?: MadePicture | undefined
}

/** An image, and what a build makes of it. */
export interface MadePicture {
  readonly picture: Picture
  readonly renditions: readonly Rendition[]
  /** What the addresses of files begin with. */
  readonly base: string
}

/** The address of a link in the output; `assetBase` is put before the paths of files. */
export function createOutputAddress(href: string, target: LinkTarget, assetBase: string): OutputAddress {
  const plain = { address: href, file: undefined, isHidden: false }
  // A site can make it a warning that a link leads to what is not published.
  if (target.kind === 'hidden' || target.kind === 'guarded') return { ...plain, address: '#', isHidden: true }
  if (target.kind === 'asset')
    return { ...plain, address: assetBase + encodeURI(target.file) + href.replace(/^[^?#]*/, ''), file: target.file }
  if (target.kind !== 'entry' || target.address === undefined || href.startsWith('#')) return plain
  return { ...plain, address: target.fragment === '' ? target.address : `${target.address}#${target.fragment}` }
}

/** True where a link becomes the same in both. */
export const isSameAddress = (one: OutputAddress, other: OutputAddress): boolean =>
  one.file === other.file && one.isHidden === other.isHidden && writeAddress(one) === writeAddress(other)

/** An address, and what is made of the image there, as a text to compare. */
export const writeAddress = ({ address, made }: OutputAddress): string =>
  made ? JSON.stringify([address, made.picture]) : address

/** The size of a picture in pixels, as far as it is known. */
export interface Dimensions {
  readonly width: number | null
  readonly height: number | null
}

/** The links of one entry in the output. */
export interface EntryLinks {
  address(href: string): OutputAddress
  dimensions(href: string): Dimensions
}

/** Makes what puts addresses of the output into a text, and tells of the files that it names and of what is made of them. */
export function createRewrite(
  address: (href: string) => OutputAddress,
  found: { file(address: string, file: string): void; rendition(address: string, rendition: Rendition): void },
): Rewrite {
  const rewrite = (href: string): string => {
    const { address: output, file } = address(href)
    if (file !== undefined) found.file(output, file)
    return output
  }
  const picture = (href: string): Picture | undefined => {
    const { made } = address(href)
    for (const [at, one] of made ? addressesOf(made) : []) found.rendition(at, one)
    return made?.picture
  }
  return Object.assign(rewrite, { picture })
}

/** The addresses of what is made of an image. */
const addressesOf = ({ renditions, base }: MadePicture): (readonly [string, Rendition])[] =>
  renditions.map((one) => [base + one.file, one] as const)
