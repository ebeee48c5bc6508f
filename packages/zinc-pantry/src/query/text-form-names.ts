import { COMPUTED_NAMES } from '../values/computed-steps.ts'
import { WRITTEN_OPERATORS } from '../values/operators.ts'

/** A range of a text between separators, without the spaces around it. */
export interface Part {
  readonly text: string
  readonly start: number
}

/** The source of a pattern for a text in quotes. */
export const QUOTED = `"(?:[^"\\\\]|\\\\.)*"|'(?:[^'\\\\]|\\\\.)*'`
/** What follows the dot of a step, and the source of a pattern for its parentheses behind that. */
const STEP_NAMES = ['count', 'keys', 'within', ...COMPUTED_NAMES].join('|')
const PARENTHESES = '\\([^()]*\\)'
export const STEP_END = `(?<=\\.(?:${STEP_NAMES}))${PARENTHESES}`

/** A quote opens where a name may start: at the beginning, or behind a separator, a dot or the sign of a sort key. */
const PIECE = new RegExp(`(?<=(?:^|[,.-])\\s*)(?:${QUOTED})|${STEP_END}|[\\s\\S]`, 'gu')

/** Cuts a text at a separator, but not inside of quotes. Parts of nothing but spaces are left out. */
export function splitOutside(source: string, separator: string): Part[] {
  const parts: Part[] = []
  let text = ''
  let start = 0
  const close = (end: number): void => {
    const trimmed = text.trim()
    if (trimmed !== '') parts.push({ text: trimmed, start: start + text.indexOf(trimmed) })
    start = end + separator.length
    text = ''
  }
  for (const { 0: piece, index } of source.matchAll(PIECE))
    if (piece === separator) close(index)
    else text += piece
  close(source.length)
  return parts
}

/** The names of a path with dots between them. One with dots, spaces or signs in it stands in quotes. */
export const readPathNames = (path: string): string[] =>
  splitOutside(path, '.').map(({ text }) => (/^(["']).*\1$/s.test(text) && text.length > 1 ? unquote(text) : text))

/** The text inside of quotes, unescaped. */
export const unquote = (quoted: string): string => quoted.slice(1, -1).replace(/\\(.)/gs, '$1')

const PLAIN_NAME = /^[^\s=<>!(),"'@.-][^\s=<>!(),"'@.]*$/
const STEPS = new RegExp(`^(?:${STEP_NAMES})${PARENTHESES}$`)
const OPERATOR_WORDS = Object.values(WRITTEN_OPERATORS).filter((one) => /^\w+$/.test(one))
/** The words of the text form. */
export const WORDS = new RegExp(`^(?:and|or|not|some|every|none|${OPERATOR_WORDS.join('|')})$`)

/** Writes the names of a path so that {@link readPathNames} reads them. */
export const writePathNames = (path: readonly string[]): string =>
  path
    .map((name, at) => {
      const isPlain = (PLAIN_NAME.test(name) && !WORDS.test(name)) || (at > 0 && STEPS.test(name))
      return isPlain ? name : quote(name)
    })
    .join('.')

/** Puts a text in quotes. */
export const quote = (text: string): string => `"${text.replace(/["\\]/g, '\\$&')}"`
