import type { LinkTarget } from '../link/link-resolver.ts'

/** The address of a link in the output. */
export interface OutputAddress {
  readonly address: string
  /** The file of the content folder that it leads to. */
  readonly file: string | undefined
  /** True for what is not published, and so has no address. */
  readonly isHidden: boolean
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
  one.address === other.address && one.file === other.file && one.isHidden === other.isHidden

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
