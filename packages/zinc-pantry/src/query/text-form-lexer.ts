import { QUOTED, STEP_END, unquote } from './text-form-names.ts'
import { TextFormError } from './text-form-problem.ts'

/** A range of the text form of a condition. */
export interface Token {
  readonly kind: 'word' | 'quoted' | 'sign' | 'end'
  /** The word or sign; of a quoted text what is inside, unescaped. */
  readonly text: string
  readonly start: number
  readonly end: number
}

const PATTERN = new RegExp(
  `\\s+|(?<sign>!=|<=|>=|[=<>(),])|(?<quoted>${QUOTED})|(?<word>[^\\s=<>!(),"']+(?:${STEP_END})?)`,
  'gy',
)

/** Takes the text form of a condition apart. */
export function readTokens(source: string): Token[] {
  const tokens: Token[] = []
  PATTERN.lastIndex = 0
  let at = 0
  while (at < source.length) {
    PATTERN.lastIndex = at
    const match = PATTERN.exec(source)
    if (!match) {
      const quote = /["']/.test(source.charAt(at))
      const message = quote ? 'Quote is never closed' : `Unexpected ${source.charAt(at)}`
      throw new TextFormError({ message, start: at, end: at + 1 })
    }
    const end = at + match[0].length
    const { sign, quoted, word } = match.groups ?? {}
    if (sign) tokens.push({ kind: 'sign', text: sign, start: at, end })
    else if (quoted) tokens.push({ kind: 'quoted', text: unquote(quoted), start: at, end })
    else if (word) tokens.push({ kind: 'word', text: word, start: at, end })
    at = end
  }
  tokens.push({ kind: 'end', text: '', start: source.length, end: source.length })
  return tokens
}
