import type StateBlock from 'markdown-it/lib/rules_block/state_block.mjs'
import type StateInline from 'markdown-it/lib/rules_inline/state_inline.mjs'
import type Token from 'markdown-it/lib/token.mjs'

export type { StateBlock, StateInline, Token }

/** The note that a rule of ours leaves on a token. */
export interface TokenNote {
  /** Offset in the content of the inline token at which it was made. */
  readonly at?: number
  /** The use of a block that it opens. */
  readonly use?: RawUse
}

/** A property of a directive as it is written; spans are offsets in the text that its rule reads. */
export interface RawAttribute {
  readonly name: string
  readonly value: string | true
  readonly key: readonly [start: number, end: number]
  readonly span: readonly [start: number, end: number]
}

/** A directive as it is written. */
export interface RawUse {
  readonly name: string
  readonly span: readonly [start: number, end: number]
  readonly attributes: readonly RawAttribute[]
  /** True where no line closes it. */
  readonly isOpen: boolean
}

/** Reads what a rule of ours noted. */
export const noteOf = (token: Token): TokenNote => (token.meta as { note?: TokenNote } | null)?.note ?? {}

/** Notes something on a token. */
export function addNote(token: Token, note: TokenNote): void {
  token.meta = { ...(token.meta as object | null), note: { ...noteOf(token), ...note } }
}

/** The text that a reader sees of inline tokens; of an image what is said in its place. */
export function plainText(tokens: readonly Token[]): string {
  let text = ''
  for (const token of tokens) text += tokenText(token)
  return text
}

/** The same of one. */
export function tokenText(token: Token): string {
  if (token.type === 'text' || token.type === 'code_inline' || token.type === 'text_special') return token.content
  if (token.type === 'softbreak' || token.type === 'hardbreak') return ' '
  return token.type === 'image' ? plainText(token.children ?? []) : ''
}
