import { resolveFrom, withoutNumbers } from '../link/resolve-path.ts'
import { relativePath } from './rename-path.ts'

/** A link, and where it and its target are before and after a change. Paths are relative to the content folder. */
export interface MovedLink {
  readonly href: string
  /** The file that the link stands in. */
  readonly from: string
  readonly fromAfter: string
  /** The file that it leads to. */
  readonly to: string
  readonly toAfter: string
  /** The target by its collection and id. */
  readonly name: string
  readonly nameAfter: string
  /** The address of the page that it leads to after the change, where it has one. */
  readonly addressAfter: string | undefined
}

/** A link as it is written after a change: by address, name or path as before, with its query and fragment. */
export function rewriteHref(link: MovedLink): string {
  const [, path = '', rest = ''] = /^([^?#]*)(.*)$/s.exec(link.href) ?? []
  if (path === '') return link.href
  const decoded = decodeAddress(path)
  const encode = (text: string): string => (decoded === path && !/[\s()<>]/.test(text) ? text : encodeURI(text))
  if (decoded.startsWith('/'))
    return link.addressAfter === undefined ? link.href : asWritten(path, link.addressAfter) + rest
  const target = resolveFrom(link.from, decoded)
  if (decoded === link.name && target !== link.to) return encode(link.nameAfter) + rest
  const isNumbered = target !== undefined && !link.to.startsWith(target) && withoutNumbers(link.to).startsWith(target)
  const [before, after] = isNumbered ? [withoutNumbers(link.to), withoutNumbers(link.toAfter)] : [link.to, link.toAfter]
  // What the link leaves out of the path of the file: its ending, or the name of the page of a folder.
  const missing = target !== undefined && before.startsWith(target) ? before.slice(target.length) : ''
  const left = after.endsWith(missing) ? missing : ''
  const plain = relativePath(link.fromAfter, after.slice(0, after.length - left.length))
  return encode((decoded.startsWith('./') && !plain.startsWith('.') ? './' : '') + plain) + rest
}

/** An address with or without a slash at its end, as the other one is written. */
const asWritten = (written: string, address: string): string =>
  address === '/' || written.endsWith('/') === address.endsWith('/')
    ? address
    : written.endsWith('/')
      ? `${address}/`
      : address.replace(/\/$/, '')

/** An address without signs encoded; as it is where that cannot be. */
export function decodeAddress(path: string): string {
  try {
    return decodeURI(path)
  } catch {
    return path
  }
}
