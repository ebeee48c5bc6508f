import { decodePart, resolveFrom, withoutNumbers } from '../link/resolve-path.ts'
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
  const [path = ''] = link.href.split(/[?#]/, 1)
  const rest = link.href.slice(path.length)
  if (path === '') return link.href
  const decoded = decodePart(path)
  const encode = (text: string): string =>
    decoded === path && !SPECIAL.test(text) && !hasNewSign(text, path) ? text : encodePath(text)
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

/** What an address cannot have as it is, or reads as something else. */
const SPECIAL = /[<>?#\\"\r\n]|%[\da-f]{2}|&#?\w+;/i
/** What it can have in some places only: in angle brackets, or in quotes. One that has it already stands at such a place. */
const PARTLY_SPECIAL = [' ', '\t', '(', ')', "'", '=']
const hasNewSign = (text: string, path: string): boolean =>
  PARTLY_SPECIAL.some((sign) => text.includes(sign) && !path.includes(sign))

/** A path as an address that can stand anywhere: signs encoded that would be something else, and parentheses that are not in pairs. */
function encodePath(path: string): string {
  const encoded = encodeURI(path).replace(/['=?#]|&(?=#?\w+;)/g, percentEncode)
  return areInPairs(encoded) ? encoded : encoded.replace(/[()]/g, percentEncode)
}

const percentEncode = (sign: string): string => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`

function areInPairs(text: string): boolean {
  let depth = 0
  for (const sign of text.replace(/[^()]/g, '')) {
    depth += sign === '(' ? 1 : -1
    if (depth < 0) return false
  }
  return depth === 0
}
