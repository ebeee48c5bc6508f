import type { ListItem, Paragraph, PhrasingContent, RootContent } from 'mdast'
import { doubt } from '../doubt.ts'
import { STARTS_AUTOLINK } from './autolinks.ts'
import { parseInlines } from './inlines.ts'
import type { Names } from './links.ts'
import type { View } from './view.ts'

/** A text that is read when all definitions are known. */
interface PendingText {
  readonly node: { children: PhrasingContent[] }
  readonly view: View
  readonly start: number
  readonly end: number
  readonly isCell: boolean
  /** The item whose first paragraph it is. */
  readonly item?: ListItem | undefined
}

/** Where blocks stand. */
export interface BlockContext {
  /** True for the text itself, which alone may hold statements. */
  readonly isTop?: boolean
  /** The item of a list that holds them. */
  readonly item?: ListItem
}

/** Blocks, and whether a blank line stands between two of them. */
export interface Blocks {
  readonly children: RootContent[]
  readonly hasGap: boolean
}

/** What is gathered while the blocks of a text are read. */
export interface Document {
  /** Reads the blocks in a container. */
  readonly readBlocks: (view: View, context: BlockContext) => Blocks
  readonly names: Names
  readonly texts: PendingText[]
  /** What statements import. */
  readonly imported: string[]
  /** How many quotes and notes are open. */
  prefixes: number
}

export function createDocument(
  readBlocks: (view: View, document: Document, context: BlockContext) => Blocks,
): Document {
  const document: Document = {
    readBlocks: (view, context) => readBlocks(view, document, context),
    names: { definitions: new Set(), notes: new Set() },
    texts: [],
    imported: [],
    prefixes: 0,
  }
  return document
}

/** Reads the texts in the blocks. */
export function finishTexts({ texts, names }: Document): void {
  for (const { node, view, start, end, isCell, item } of texts) {
    const isTask = item !== undefined && TASK.test(view.text.slice(start, Math.min(end, start + 4)))
    node.children = parseInlines(view, isTask ? start + 3 : start, end, { names, isCell })
    if (isTask) markTask(item, node as Paragraph, view.text[start + 1] !== ' ')
    assertNoAddresses(node.children)
  }
}

const TASK = /^\[[ xX]\] /

/** Makes an item one of a list of tasks. */
function markTask(item: ListItem, paragraph: Paragraph, isDone: boolean): void {
  item.checked = isDone
  const [head] = paragraph.children
  if (head?.type !== 'text' || !head.position || !paragraph.position) return
  head.value = head.value.slice(1)
  if (head.value === '') {
    paragraph.children.shift()
    return
  }
  const { line, column, offset = 0 } = head.position.start
  head.position.start = { line, column: column + 1, offset: offset + 1 }
  paragraph.position.start = { ...head.position.start }
}

/** The compiler looks for addresses in texts once more, so that none may be left. */
function assertNoAddresses(nodes: readonly PhrasingContent[]): void {
  for (const node of nodes) {
    if (node.type === 'text' && STARTS_AUTOLINK.test(node.value)) doubt('an address in a text')
    if ('children' in node && node.type !== 'link' && node.type !== 'linkReference')
      assertNoAddresses(node.children as PhrasingContent[])
  }
}
