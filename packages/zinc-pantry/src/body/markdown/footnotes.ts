import type MarkdownIt from 'markdown-it'
import footnote from 'markdown-it-footnote'
import { rulesOf } from './rules.ts'
import type { Token } from './token.ts'

/**
 * A list that grows where others would be copied. The parser of footnotes puts the tokens of each behind all others with
 * `concat`, which for thousands of notes takes seconds.
 */
class GrowingList extends Array<Token> {
  override concat(...lists: (Token | ConcatArray<Token>)[]): this {
    for (const list of lists) for (const token of list as readonly Token[]) this.push(token)
    return this
  }
}

/** Adds footnotes, at the end of a text and within a line. */
export function addFootnotes(markdown: MarkdownIt): void {
  markdown.use(footnote as unknown as (markdown: MarkdownIt) => void)
  const { ruler } = markdown.core
  const tail = rulesOf(ruler).find(({ name }) => name === 'footnote_tail')?.fn
  ruler.at('footnote_tail', (state) => {
    // Most texts have none, and copies of all tokens add up.
    if (!(state.env as { readonly footnotes?: object }).footnotes) return
    const tokens = new GrowingList()
    state.tokens = tokens.concat(state.tokens)
    tail?.call(undefined, state)
    state.tokens = Array.from(state.tokens)
  })
}
