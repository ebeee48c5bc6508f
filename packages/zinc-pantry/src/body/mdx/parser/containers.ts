import type { Blockquote, FootnoteDefinition, List, ListItem } from 'mdast'
import { normalizeIdentifier } from 'micromark-util-normalize-identifier'
import { doubt } from '../doubt.ts'
import type { Document } from './document.ts'
import { readFlow } from './flow.ts'
import type { Found } from './found.ts'
import { interrupts } from './interrupts.ts'
import { identifierOf } from './links.ts'
import { type Marker, matchNote, readMarker } from './starts.ts'
import { readAlignment } from './tables.ts'
import { type Part, skipSpaces, type View } from './view.ts'

const isBlank = (view: View, line: number): boolean => {
  const { start, end } = view.line(line)
  return skipSpaces(view.text, start, end) === end
}

/** Reads a list whose first marker is known. */
export function readList(view: View, line: number, document: Document, first: Marker): Found<List> {
  const start = skipSpaces(view.text, view.line(line).start, view.line(line).end)
  const children: ListItem[] = []
  let spread = false
  let at = line
  let marker: Marker | undefined = first
  let last = line
  while (marker) {
    const item = readItem(view, at, document, marker)
    children.push(item.node)
    last = item.last
    at = last + 1
    while (at < view.lines.length && isBlank(view, at)) at++
    marker = at < view.lines.length ? readSibling(view, at, first) : undefined
    if (marker && at > last + 1) spread = true
  }
  if (at < view.lines.length && at === last + 1) assertInterrupts(view, at)
  const node: List = {
    type: 'list',
    ordered: first.isOrdered,
    start: first.isOrdered ? first.number : null,
    spread,
    children,
    position: view.position(start, view.line(last).end),
  }
  return { node, next: last + 1 }
}

function readSibling(view: View, line: number, { isOrdered, sign }: Marker): Marker | undefined {
  const { start, end } = view.line(line)
  const marker = readMarker(view.text, skipSpaces(view.text, start, end), end)
  return marker && marker.isOrdered === isOrdered && marker.sign === sign ? marker : undefined
}

function readItem(view: View, line: number, document: Document, marker: Marker): { node: ListItem; last: number } {
  const { start: lineStart, end } = view.line(line)
  const start = skipSpaces(view.text, lineStart, end)
  if (marker.content >= end) doubt('an empty item')
  const { parts, last } = collectIndented(view, line, marker.content, marker.content - lineStart)
  const node: ListItem = { type: 'listItem', spread: false, checked: null, children: [] }
  const inner = document.readBlocks(view.within(parts), { item: node })
  node.spread = inner.hasGap
  node.children = inner.children as ListItem['children']
  node.position = view.position(start, view.line(last).end)
  return { node, last }
}

/**
 * The lines of a container that are indented by a number of spaces, or blank between such, or that go on with a paragraph in it
 * though they are not indented.
 */
function collectIndented(view: View, line: number, content: number, width: number): { parts: Part[]; last: number } {
  const parts: Part[] = [{ line, from: content, isLazy: false }]
  let last = line
  for (let at = line + 1; at < view.lines.length; at++) {
    const { start, end } = view.line(at)
    const first = skipSpaces(view.text, start, end)
    if (first === end) continue
    const isIndented = first - start >= width
    if (!isIndented && !(last === at - 1 && mayGoOn(view, at, first))) break
    for (let blank = last + 1; blank < at; blank++)
      parts.push({
        line: blank,
        from: Math.min(view.line(blank).start + width, view.line(blank).end),
        isLazy: false,
      })
    parts.push({ line: at, from: isIndented ? start + width : start, isLazy: !isIndented })
    last = at
  }
  return { parts, last }
}

/** True for a line that is a part of a container if a paragraph is open in it, which whoever reads that has to see. */
function mayGoOn(view: View, line: number, first: number): boolean {
  if (interrupts(view, line, false) || readMarker(view.text, first, view.line(line).end)) return false
  // The compiler reads on in the next lines.
  if (/[<{]/.test(view.text[first] as string) || readAlignment(view, line))
    doubt('code or a table that may go on with a paragraph')
  return true
}

/** A line behind a container, with no blank line between, could go on with a paragraph in it. */
function assertInterrupts(view: View, line: number): void {
  if (!interrupts(view, line, false)) doubt('a line that may go on with a paragraph')
  const { start, end } = view.line(line)
  const flow = /[<{]/.test(view.text.slice(start, end)) && readFlow(view, skipSpaces(view.text, start, end))
  if (flow && flow.next > line + 1) doubt('code behind a container')
}

/** Reads lines that begin with `>`. */
export function readQuote(view: View, line: number, document: Document): Found<Blockquote> {
  const parts: Part[] = []
  let at = line
  for (; at < view.lines.length; at++) {
    const { start, end } = view.line(at)
    const first = skipSpaces(view.text, start, end)
    if (first === end) break
    if (view.text.charCodeAt(first) === 62) {
      const from = view.text.charCodeAt(first + 1) === 32 && first + 1 < end ? first + 2 : first + 1
      parts.push({ line: at, from, isLazy: false })
    } else if (mayGoOn(view, at, first)) parts.push({ line: at, from: start, isLazy: true })
    else break
  }
  const last = parts.at(-1) as Part
  if (skipSpaces(view.text, last.from, view.line(last.line).end) === view.line(last.line).end) doubt('an empty quote')
  if (at < view.lines.length && !isBlank(view, at)) assertInterrupts(view, at)
  const { start, end } = view.line(line)
  document.prefixes++
  const { children } = document.readBlocks(view.within(parts), {})
  document.prefixes--
  const node: Blockquote = {
    type: 'blockquote',
    children: children as Blockquote['children'],
    position: view.position(skipSpaces(view.text, start, end), view.line(last.line).end),
  }
  return { node, next: at }
}

/** Reads the text of a note. */
export function readNoteText(view: View, line: number, document: Document): Found<FootnoteDefinition> {
  const { start: lineStart, end } = view.line(line)
  const start = skipSpaces(view.text, lineStart, end)
  const [all = '', label = ''] = matchNote(view.text, start) ?? []
  if (/[\\&]/.test(label) || label.length > 900) doubt('a label with escapes')
  const content = skipSpaces(view.text, start + all.length, end)
  if (content >= end) doubt('an empty note')
  const { parts, last } = collectIndented(view, line, content, 4)
  document.names.notes.add(normalizeIdentifier(label))
  if (last + 1 < view.lines.length && !isBlank(view, last + 1)) assertInterrupts(view, last + 1)
  document.prefixes++
  const { children } = document.readBlocks(view.within(parts), {})
  document.prefixes--
  const node: FootnoteDefinition = {
    type: 'footnoteDefinition',
    identifier: identifierOf(label),
    label,
    children: children as FootnoteDefinition['children'],
    position: view.position(start, view.line(last).end),
  }
  return { node, next: last + 1 }
}
