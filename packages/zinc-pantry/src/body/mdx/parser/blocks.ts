import type { Code, Heading, ListItem, Paragraph, RootContent, TableRow } from 'mdast'
import { doubt } from '../doubt.ts'
import { readList, readNoteText, readQuote } from './containers.ts'
import { mayDefine, readDefinition } from './definitions.ts'
import type { BlockContext, Blocks, Document } from './document.ts'
import { ElementTree } from './element-tree.ts'
import { type FlowPart, readFlow, readModule } from './flow.ts'
import type { Found } from './found.ts'
import { interrupts } from './interrupts.ts'
import {
  beginsNote,
  closesFence,
  isThematicBreak,
  readAtxHeading,
  readFence,
  readMarker,
  underlineDepth,
} from './starts.ts'
import { type CellText, createRow, createTable, readAlignment } from './tables.ts'
import { skipSpaces, trimEnd, type View } from './view.ts'

/** An item with another number than 1, in a container on its first line. */
const NUMBER_WITHIN = /^ *(?:>|[-+*] |\d+[.)] )[-+*> ]*(?!1[.)])\d+[.)]/

/** Reads the blocks of a view. */
export function readBlocks(view: View, document: Document, { isTop = false, item }: BlockContext): Blocks {
  const { text } = view
  const tree = new ElementTree<RootContent>(view, 'mdxJsxFlowElement')
  let hasGap = false
  let isBehindBlank = false
  let isFirst = true
  for (let at = 0; at < view.lines.length; ) {
    const { start, end } = view.line(at)
    const first = skipSpaces(text, start, end)
    if (first === end) {
      isBehindBlank = true
      at++
      continue
    }
    if (view.line(at).isLazy) doubt('a line that goes on with no paragraph')
    if (isBehindBlank) hasGap = true
    isBehindBlank = false
    at = readBlock(at, first, end)
    isFirst = false
  }
  return { children: tree.finish(), hasGap }

  function readBlock(line: number, first: number, end: number): number {
    if (isTop && first === view.line(line).start) {
      const module = readModule(view, line, document)
      if (module) return add(module)
    }
    const flow = readFlow(view, first)
    if (flow) return placeFlow(flow)
    assertNoTab(line)
    const marker = readMarker(text, first, end)
    if (marker) return addContainer(line, () => readList(view, line, document, marker))
    if (text.charCodeAt(first) === 62) return addContainer(line, () => readQuote(view, line, document))
    if (beginsNote(text, first)) {
      if (!isTop) doubt('a note in a container')
      return addContainer(line, () => readNoteText(view, line, document))
    }
    const leaf = readLeaf(view, line, first, document)
    if (leaf) return add(leaf)
    if (mayDefine(text, first)) {
      const next = readDefinitions(line)
      if (next > line) return next
    }
    return add(readParagraph(view, line, document, isFirst ? item : undefined))
  }

  function add({ node, next }: Found<RootContent>): number {
    tree.children.push(node)
    return next
  }

  function addContainer(line: number, read: () => Found<RootContent>): number {
    const before = line > 0 ? view.line(line - 1) : undefined
    const { start, end } = view.line(line)
    if (before && skipSpaces(text, before.start, before.end) < before.end && NUMBER_WITHIN.test(text.slice(start, end)))
      doubt('a list by numbers within what ends a paragraph')
    const found = read()
    // The compiler takes what stands in front of the next line for a part of the container.
    if (document.prefixes > 0 && found.next < view.lines.length) doubt('more behind a container in a quote')
    return add(found)
  }

  /** Reads definitions in lines one after another; a text behind them is not sure to be what it would be by itself. */
  function readDefinitions(line: number): number {
    for (let at = line; ; ) {
      const next = view.lines[at]
      const first = next ? skipSpaces(text, next.start, next.end) : 0
      if (!next || first === next.end || (at > line && beginsNote(text, first))) return at
      const definition = mayDefine(text, first) ? readDefinition(view, at, document.names) : undefined
      if (!definition) return at > line ? doubt('a text behind a definition') : at
      at = add(definition)
    }
  }

  function assertNoTab(line: number): void {
    const { start, end } = view.line(line)
    if (text.slice(start, end).includes('\t')) doubt('a tab')
  }

  function placeFlow({ parts, next }: { parts: readonly FlowPart[]; next: number }): number {
    for (const part of parts)
      if (part.kind === 'tag') tree.place(part.tag)
      else tree.children.push(part.node)
    return next
  }
}

/** Reads a block that is no paragraph and holds no blocks. */
function readLeaf(view: View, line: number, first: number, document: Document): Found<RootContent> | undefined {
  const { text } = view
  const { start, end } = view.line(line)
  const code = text.charCodeAt(first)
  if (code === 35) {
    const heading = readAtxHeading(text, first, end)
    if (!heading) return readTable(view, line, document)
    const node: Heading = {
      type: 'heading',
      depth: heading.depth,
      children: [],
      position: view.position(first, end),
    }
    if (heading.end > heading.start)
      document.texts.push({ node, view, start: heading.start, end: heading.end, isCell: false })
    return { node, next: line + 1 }
  }
  if (isThematicBreak(text, first, end))
    return { node: { type: 'thematicBreak', position: view.position(first, end) }, next: line + 1 }
  if (code === 96 || code === 126) {
    const code = readCodeBlock(view, line, first, first - start)
    if (code) return code
  }
  return readTable(view, line, document)
}

function readCodeBlock(view: View, line: number, first: number, indent: number): Found<Code> | undefined {
  const { text } = view
  const fence = readFence(text, first, view.line(line).end)
  if (!fence) return undefined
  if (/[\\&\t]/.test(`${fence.lang} ${fence.meta}`)) doubt('escapes behind a fence')
  const values: string[] = []
  for (let at = line + 1; at < view.lines.length; at++) {
    const { start, end, isLazy } = view.line(at)
    if (isLazy) doubt('a line that goes on with code')
    if (closesFence(text, start, end, fence)) {
      const { lang, meta } = fence
      const node: Code = {
        type: 'code',
        lang,
        meta,
        value: values.join(''),
        position: view.position(first, end),
      }
      return { node, next: at + 1 }
    }
    const value = text.slice(skipSpaces(text, start, Math.min(end, start + indent)), end)
    if (value.includes('\t') && (indent > 0 || view.line(at).column > 1)) doubt('a tab in code that is indented')
    if (values.length > 0) values.push(view.lineEnd(at - 1))
    values.push(value)
  }
  return doubt('a fence without an end')
}

function readTable(view: View, line: number, document: Document): Found<RootContent> | undefined {
  const align = readAlignment(view, line)
  if (!align) return undefined
  const texts: CellText[] = []
  const rows: TableRow[] = [createRow(view, line, texts)]
  let at = line + 2
  for (; at < view.lines.length; at++) {
    const { start, end } = view.line(at)
    const first = skipSpaces(view.text, start, end)
    if (first === end) break
    if (view.line(at).isLazy || view.text.slice(start, end).includes('\t')) doubt('a row that may be none')
    if (interrupts(view, at, false)) break
    if (readMarker(view.text, first, end) || /^(?:im|ex)port /.test(view.text.slice(start, end)))
      doubt('what may be no row')
    rows.push(createRow(view, at, texts))
  }
  for (const { cell, start, end } of texts) document.texts.push({ node: cell, view, start, end, isCell: true })
  const node = createTable(align, rows)
  const { start, end } = view.line(line)
  const last = rows.length === 1 ? line + 1 : at - 1
  node.position = view.position(skipSpaces(view.text, start, end), view.line(last).end)
  return { node, next: at }
}

function readParagraph(
  view: View,
  line: number,
  document: Document,
  item: ListItem | undefined,
): Found<Paragraph | Heading> {
  const { text } = view
  const { start, end } = view.line(line)
  const first = skipSpaces(text, start, end)
  let last = line
  for (let at = line + 1; at < view.lines.length; at++) {
    const next = view.line(at)
    const from = skipSpaces(text, next.start, next.end)
    if (from === next.end) break
    const depth = underlineDepth(text, from, next.end)
    if (depth && next.isLazy) doubt('a line of signs that goes on with a paragraph')
    if (depth) {
      const stop = trimEnd(text, first, view.line(last).end)
      const node: Heading = { type: 'heading', depth, children: [], position: view.position(first, next.end) }
      document.texts.push({ node, view, start: first, end: stop, isCell: false })
      return { node, next: at + 1 }
    }
    if (text.slice(next.start, next.end).includes('\t')) doubt('a tab')
    if (!next.isLazy && interrupts(view, at, true)) break
    last = at
  }
  const stop = view.line(last).end
  const node: Paragraph = { type: 'paragraph', children: [], position: view.position(first, stop) }
  document.texts.push({ node, view, start: first, end: trimEnd(text, first, stop), isCell: false, item })
  return { node, next: last + 1 }
}
