import type { FootnoteReference } from 'mdast'
import { decodeString } from 'micromark-util-decode-string'
import { normalizeIdentifier } from 'micromark-util-normalize-identifier'
import { doubt } from '../doubt.ts'
import type { View } from './view.ts'

/** What a text defines for its references. */
export interface Names {
  readonly definitions: Set<string>
  readonly notes: Set<string>
}

/** What a reference says of its label. */
interface Reference {
  readonly label: string
  readonly identifier: string
  readonly referenceType: 'full' | 'collapsed' | 'shortcut'
}

/** What stands behind the label of a link or a picture. */
export type LinkEnd =
  | { readonly kind: 'resource'; readonly url: string; readonly title: string | null; readonly end: number }
  | { readonly kind: 'reference'; readonly reference: Reference; readonly end: number }

const SPACE = /[ \n]*/y
const ENCLOSED = /<((?:\\[<>\\]|\\(?![<>\\])|[^<>\n\\])*)>/y
const TITLE = /"((?:[^"\\]|\\[\s\S])*)"|'((?:[^'\\]|\\[\s\S])*)'|\(((?:[^()\\]|\\[\s\S])*)\)/y
const LABEL = /\[((?:[^[\]\\]|\\[\s\S])*)\]/y

function match(pattern: RegExp, text: string, at: number): RegExpExecArray | null {
  pattern.lastIndex = at
  return pattern.exec(text)
}

const spacesAt = (text: string, at: number): number => match(SPACE, text, at)?.[0].length ?? 0

export const identifierOf = (label: string): string => normalizeIdentifier(label).toLowerCase()

/** Reads what follows a closing bracket; nothing where the label is no link. */
export function readLinkEnd(view: View, close: number, end: number, label: string, names: Names): LinkEnd | undefined {
  const { text } = view
  const next = close + 1 < end ? text[close + 1] : ''
  if (next === '(') {
    const resource = readResource(text, close + 1, end)
    if (resource) return resource
  }
  const isDefined = names.definitions.has(normalizeIdentifier(label))
  if (next === '[') {
    const found = match(LABEL, text, close + 1)
    const written = found?.[1]
    if (written !== undefined && written.length > 900) doubt('a long label')
    const behind = close + 1 + (found?.[0].length ?? 0)
    if (found && behind <= end) {
      if (written?.trim() && names.definitions.has(normalizeIdentifier(written)))
        return reference(view.slice(close + 2, behind - 1), 'full', behind)
      if (isDefined && written === '') return reference(view.slice(close - label.length, close), 'collapsed', behind)
    }
    return undefined
  }
  return isDefined ? reference(view.slice(close - label.length, close), 'shortcut', close + 1) : undefined
}

const reference = (label: string, referenceType: Reference['referenceType'], end: number): LinkEnd => ({
  kind: 'reference',
  reference: { label: decodeString(label), identifier: identifierOf(label), referenceType },
  end,
})

function readResource(text: string, open: number, end: number): LinkEnd | undefined {
  let at = open + 1 + spacesAt(text, open + 1)
  if (at >= end) return undefined
  if (text[at] === ')') return { kind: 'resource', url: '', title: null, end: at + 1 }
  const destination = readDestination(text, at, end)
  if (!destination) return undefined
  at = destination.end
  const spaces = spacesAt(text, at)
  at += spaces
  let title: string | null = null
  if (spaces > 0 && at < end && /["'(]/.test(text[at] as string)) {
    const found = readTitle(text, at, end)
    if (!found) return undefined
    title = found.title
    at = found.end + spacesAt(text, found.end)
  }
  if (at >= end || text[at] !== ')') return undefined
  return { kind: 'resource', url: destination.url, title, end: at + 1 }
}

/** An address, in angle brackets or with balanced parentheses. */
export function readDestination(
  text: string,
  start: number,
  end: number,
): { readonly url: string; readonly end: number } | undefined {
  if (text[start] === '<') {
    const found = match(ENCLOSED, text, start)
    if (!found || start + found[0].length > end) return undefined
    return { url: decodeString(found[1] ?? ''), end: start + found[0].length }
  }
  let balance = 0
  let at = start
  for (; at < end; at++) {
    const code = text.charCodeAt(at)
    if (code === 92 && /[()\\]/.test(text[at + 1] ?? '')) at++
    else if (code === 40) balance++
    else if (code === 41) {
      if (balance === 0) break
      balance--
    } else if (code <= 32 || code === 127) break
  }
  if (at === start || at > end || balance > 0) return undefined
  if (at < end && /[^ \n)]/.test(text[at] as string)) return undefined
  if (balance > 30) doubt('many parentheses')
  return { url: decodeString(text.slice(start, at)), end: at }
}

export function readTitle(
  text: string,
  start: number,
  end: number,
): { readonly title: string; readonly end: number } | undefined {
  const found = match(TITLE, text, start)
  if (!found || start + found[0].length > end) return undefined
  const title = found[1] ?? found[2] ?? found[3] ?? ''
  if (title.includes('\n')) doubt('a title of many lines')
  return { title: decodeString(title), end: start + found[0].length }
}

/** A reference to a note that is defined. */
export function readNote(
  view: View,
  start: number,
  end: number,
  { notes }: Names,
): { readonly node: FootnoteReference; readonly end: number } | undefined {
  const found = notes.size > 0 && view.text[start + 1] === '^' ? match(LABEL, view.text, start) : null
  const label = found?.[1]?.slice(1) ?? ''
  const behind = start + (found?.[0].length ?? 0)
  if (!found || behind > end || /\s/.test(label) || !notes.has(normalizeIdentifier(label))) return undefined
  if (/[\\&]/.test(label)) doubt('a label with escapes')
  const node: FootnoteReference = {
    type: 'footnoteReference',
    identifier: identifierOf(label),
    label,
    position: view.position(start, behind),
  }
  return { node, end: behind }
}
