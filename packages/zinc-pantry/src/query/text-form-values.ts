import { WRITTEN_OPERATORS } from '../values/operators.ts'
import type { Operator, Scalar } from './condition.ts'
import type { Shape } from './shape.ts'

/** All operators. */
export const OPERATORS = Object.keys(WRITTEN_OPERATORS) as Operator[]
/** The operators that are signs, by these. */
export const SIGNS = new Map(
  OPERATORS.flatMap((operator) =>
    /\w/.test(WRITTEN_OPERATORS[operator]) ? [] : [[WRITTEN_OPERATORS[operator], operator]],
  ),
)

/** The kinds of values that an operator needs, in words. */
export const NEEDS: Partial<Record<Operator, string>> = {
  startsWith: 'a text',
  includes: 'a text or a list',
  hasWords: 'a text',
  matches: 'a text',
}

/** The value that a text stands for in a field of a kind. */
export function scalarOf(text: string, kind: Shape['kind'], isQuoted: boolean): Scalar {
  // Of what may be anything quotes tell a text.
  if (kind === 'anything') {
    if (isQuoted) return text
    return scalarOf(
      text,
      /^(?:true|false)$/.test(text) ? 'flag' : Number.isNaN(Number(text)) ? 'text' : 'number',
      false,
    )
  }
  if (kind === 'flag' && /^(?:true|false)$/.test(text)) return text === 'true'
  return kind === 'number' && text.trim() !== '' ? Number(text) : text
}
