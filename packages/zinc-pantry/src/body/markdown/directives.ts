import type MarkdownIt from 'markdown-it'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { type BracketFinder, createBracketFinder, type DirectiveHead, readDirectiveHead } from './attributes.ts'
import { addNote, type RawUse, type StateBlock, type StateInline } from './token.ts'

/**
 * Reads generic directives as uses of blocks: `:::name{key=value}` around lines that are closed by `:::`,
 * `::name[text]{…}` on a line of its own, and `:name[text]{…}` within a line.
 */
export function addDirectives(markdown: MarkdownIt, blocks: readonly string[]): void {
  const options = { alt: ['paragraph', 'reference', 'blockquote', 'list'] }
  const inLines = { blocks, closingOf: createBracketFinder() }
  const closingOf = createBracketFinder()
  markdown.block.ruler.before(
    'fence',
    'directive',
    (state, startLine, endLine, silent) => readBlock(state, { startLine, endLine, silent, closingOf }),
    options,
  )
  markdown.inline.ruler.before('link', 'directive', (state, silent) => readInline(state, silent, inLines))
}

/** Lines that may start with a directive. */
interface BlockPlace {
  readonly startLine: number
  readonly endLine: number
  readonly silent: boolean
  readonly closingOf: BracketFinder
}

const COLONS = /^:{2,}(?=[A-Za-z])/
const FENCE = /^(`{3,}|~{3,})/

function readBlock(state: StateBlock, { startLine, endLine, silent, closingOf }: BlockPlace): boolean {
  if ((state.sCount[startLine] ?? 0) - state.blkIndent >= 4) return false
  const start = lineStart(state, startLine)
  const end = state.eMarks[startLine] ?? start
  const colons = COLONS.exec(state.src.slice(start, end))?.[0].length ?? 0
  const head = colons > 0 ? readDirectiveHead({ text: state.src, end, closingOf }, start + colons) : undefined
  if (!head || state.src.slice(head.end, end).trim() !== '') return false
  if (silent) return true
  const isLeaf = colons === 2
  const closing = isLeaf ? startLine : findClosing(state, startLine, endLine, colons)
  open(state, startLine, head, closing === undefined)
  if (!isLeaf) readContent(state, startLine + 1, closing ?? endLine)
  else if (head.label) addParagraph(state, startLine, head.label.text)
  state.push('block_close', 'div', -1)
  state.line = Math.min((closing ?? endLine) + 1, Math.max(endLine, startLine + 1))
  return true
}

const lineStart = (state: StateBlock, line: number): number => (state.bMarks[line] ?? 0) + (state.tShift[line] ?? 0)

function open(state: StateBlock, line: number, head: DirectiveHead, isOpen: boolean): void {
  const token = state.push('block_open', 'div', 1)
  token.map = [line, line + 1]
  token.block = true
  addNote(token, { use: useOf(head, isOpen) })
}

const useOf = ({ name, span, attributes }: DirectiveHead, isOpen: boolean): RawUse => ({
  name,
  span,
  attributes,
  isOpen,
})

/** The line that closes a block: those inside are skipped, and so is code. */
function findClosing(state: StateBlock, startLine: number, endLine: number, colons: number): number | undefined {
  let depth = 0
  let fence = ''
  for (let line = startLine + 1; line < endLine; line++) {
    if ((state.sCount[line] ?? 0) < state.blkIndent && !state.isEmpty(line)) return undefined
    const text = state.src.slice(lineStart(state, line), state.eMarks[line])
    const mark = FENCE.exec(text)?.[1] ?? ''
    if (fence !== '') {
      if (mark.startsWith(fence) && text.trim() === mark) fence = ''
    } else if (mark !== '') fence = mark
    else if (/^:+\s*$/.test(text) && text.trim().length >= colons) {
      if (depth === 0) return line
      depth--
    } else if (COLONS.exec(text)?.[0].length === colons) depth++
  }
  return undefined
}

function readContent(state: StateBlock, startLine: number, endLine: number): void {
  const { lineMax, parentType } = state
  state.lineMax = endLine
  state.parentType = 'blockquote'
  state.md.block.tokenize(state, startLine, endLine)
  state.lineMax = lineMax
  state.parentType = parentType
}

function addParagraph(state: StateBlock, line: number, text: string): void {
  state.push('paragraph_open', 'p', 1).map = [line, line + 1]
  const inline = state.push('inline', '', 0)
  inline.content = text
  inline.map = [line, line + 1]
  inline.children = []
  state.push('paragraph_close', 'p', -1)
}

function readInline(
  state: StateInline,
  silent: boolean,
  { blocks, closingOf }: { readonly blocks: readonly string[]; readonly closingOf: BracketFinder },
): boolean {
  const { pos, src, posMax } = state
  if (src[pos] !== ':' || /[\w:]/.test(src[pos - 1] ?? '')) return false
  const head = readDirectiveHead({ text: src, end: posMax, closingOf }, pos + 1)
  // Prose has colons too: what is near to no name of a block is text.
  if (!head?.hasMore || (!blocks.includes(head.name) && suggestNearest(head.name, blocks) === undefined)) return false
  if (silent) {
    state.pos = head.end
    return true
  }
  addNote(state.push('block_open', 'span', 1), { use: useOf(head, false) })
  if (head.label) {
    state.pos = head.label.span[0]
    state.posMax = head.label.span[1]
    state.md.inline.tokenize(state)
    state.posMax = posMax
  }
  state.push('block_close', 'span', -1)
  state.pos = head.end
  return true
}
