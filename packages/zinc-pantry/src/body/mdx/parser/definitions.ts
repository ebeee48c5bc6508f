import type { Definition } from 'mdast'
import { decodeString } from 'micromark-util-decode-string'
import { normalizeIdentifier } from 'micromark-util-normalize-identifier'
import { doubt } from '../doubt.ts'
import type { Found } from './found.ts'
import { identifierOf, type Names, readDestination, readTitle } from './links.ts'
import { skipSpaces, type View } from './view.ts'

const LABEL = /\[((?:[^[\]\\]|\\[\s\S])+)\]:/y
const OPEN_LABEL = /^\[(?:[^[\]\\]|\\.)*$/

/** True where a definition may begin. */
export const mayDefine = (text: string, at: number): boolean => text.charCodeAt(at) === 91

/** Reads a definition, whose address may stand on the next line; nothing where a text begins. */
export function readDefinition(view: View, line: number, names: Names): Found<Definition> | undefined {
  const { text } = view
  const start = skipSpaces(text, view.line(line).start, view.line(line).end)
  // The compiler looks for its end in the next lines, and tells places of ends of lines otherwise then.
  if (view.isNested && OPEN_LABEL.test(text.slice(start, view.line(line).end))) doubt('a label that goes on')
  LABEL.lastIndex = start
  const found = LABEL.exec(text)
  const label = found?.[1]
  if (!found || !label?.trim() || /\n *\n/.test(label)) return undefined
  if (label.length > 900 || label.includes('\n')) doubt('a long label')
  let last = line
  let from = skipSpaces(text, start + found[0].length, view.line(last).end)
  const next = view.lines[line + 1]
  if (from === view.line(last).end && next && !next.isLazy) {
    if (!/^ *[A-Za-z./]/.test(text.slice(next.start, next.end))) doubt('an address that may be another block')
    last++
    from = skipSpaces(text, next.start, next.end)
  }
  const { end } = view.line(last)
  const destination = from < end ? readDestination(text, from, end) : undefined
  if (!destination) return doubt('a definition without an address')
  const at = skipSpaces(text, destination.end, end)
  const title = at < end && at > destination.end ? readTitle(text, at, end) : undefined
  if (at < end && (!title || skipSpaces(text, title.end, end) < end)) doubt('a definition with more')
  const behind = view.lines[last + 1]
  if (!title && behind && /^ *["'(]/.test(text.slice(behind.start, behind.end))) doubt('a title on the next line')
  names.definitions.add(normalizeIdentifier(label))
  const node: Definition = {
    type: 'definition',
    identifier: identifierOf(label),
    label: decodeString(label),
    title: title?.title ?? null,
    url: destination.url,
    position: view.position(start, end),
  }
  return { node, next: last + 1 }
}
