import MarkdownIt from 'markdown-it'
import footnote from 'markdown-it-footnote'
import { addAutolinks } from './autolinks.ts'
import { addDirectives } from './directives.ts'
import { addStrikethrough } from './strikethrough.ts'
import { addTaskItems } from './task-items.ts'
import { addNote, type Token } from './token.ts'

/** What a parser of Markdown is made for. */
export interface ParserOptions {
  /** Names of blocks that can be used as directives. */
  readonly blocks: readonly string[]
  readonly plugins: readonly NamedPlugin[]
}

/** A user's plugin of the Markdown parser. */
export interface NamedPlugin {
  readonly name: string
  add(markdown: MarkdownIt): void
}

/** Makes a parser: CommonMark 0.31 with tables, strikethrough, task items, autolinks, footnotes and directives. */
export function createParser({ blocks, plugins }: ParserOptions): MarkdownIt {
  const markdown = new MarkdownIt({ html: true, xhtmlOut: true })
  markdown.use(footnote as unknown as (markdown: MarkdownIt) => void)
  addStrikethrough(markdown)
  addAutolinks(markdown)
  addTaskItems(markdown)
  notePlaces(markdown)
  if (blocks.length > 0) addDirectives(markdown, blocks)
  for (const plugin of plugins) plugin.add(markdown)
  return markdown
}

const PLACED = new Set(['link_open', 'link_close', 'image', 'html_inline', 'block_open'])

/** Notes where in the content links and the like were found; the parser itself forgets it. */
function notePlaces(markdown: MarkdownIt): void {
  const State = markdown.inline.State
  markdown.inline.State = class extends State {
    override push(type: string, tag: string, nesting: -1 | 0 | 1): Token {
      const token = super.push(type, tag, nesting)
      if (PLACED.has(type)) addNote(token, { at: this.pos })
      return token
    }
  }
}
