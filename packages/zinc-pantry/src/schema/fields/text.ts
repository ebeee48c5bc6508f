import { describeValue } from '../../diagnostics/words.ts'
import { reject, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { defined } from '../json-schema.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { compilePattern } from '../pattern.ts'

/** Options of {@link text}, named as in JSON Schema 2020-12. */
export interface TextOptions extends CommonOptions {
  /** Fewest characters (Unicode code points). Default: 0. */
  readonly minLength?: number
  /** Most characters (Unicode code points). Default: no limit. */
  readonly maxLength?: number
  /** An ECMAScript regular expression, with the u flag, that must match somewhere in the text. */
  readonly pattern?: string
  /** Whether the text may go over several lines. Default: `many`. */
  readonly lines?: 'single' | 'many'
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link text}. */
export interface TextField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'text'
  readonly options: TextOptions
}

/**
 * A field of text. A number or a date without quotes in YAML is text only where it cannot be read as
 * a number: `2024` must be quoted.
 *
 * Diagnostics: `value-type`, `text-too-short`, `text-too-long`, `text-pattern`, `pattern-slow`,
 * `text-line-break`.
 *
 * @example
 * ```ts
 * import { text } from 'zinc-pantry'
 *
 * const title = text({ minLength: 1, maxLength: 80, description: 'Shown in lists' })
 * const summary = text({ optional: true })
 * ```
 */
export function text<const Options extends TextOptions = Record<never, never>>(
  options?: Options,
): TextField<Nullable<string, Options>> {
  return { kind: 'text', options: options ?? {} }
}

/** Characters as people count them, in code points. */
function countCharacters(value: string): number {
  let count = value.length
  for (let at = 0; at < value.length - 1; at++) {
    const unit = value.charCodeAt(at)
    if (unit < 0xd800 || unit > 0xdbff) continue
    const next = value.charCodeAt(at + 1)
    if (next >= 0xdc00 && next <= 0xdfff) count--
  }
  return count
}

/** The help for a value that is no text, where text was wanted. */
export function hintForText(value: unknown): string | undefined {
  if (typeof value === 'number' || typeof value === 'boolean') return `Quote it to make it text: "${value}"`
  return undefined
}

export const textKind: Kind<TextField> = {
  expected: () => 'text',
  options: { minLength: 'count', maxLength: 'count', pattern: 'text', lines: ['single', 'many'], default: 'any' },
  ranges: [['minLength', 'maxLength']],
  constraints: () => ['minLength', 'maxLength', 'pattern', 'lines'],
  compile(field) {
    const { minLength = 0, maxLength = Number.POSITIVE_INFINITY, pattern, lines } = field.options
    const matcher = pattern === undefined ? undefined : compilePattern(pattern)
    return (value, run) => {
      if (typeof value !== 'string')
        return wrongType(run, describeValue(value), { words: 'text', type: 'string' }, hintForText(value))
      // The length in code units is an upper bound of that in characters.
      if (value.length < minLength || value.length > maxLength || minLength > 0) {
        const length = countCharacters(value)
        if (length < minLength) return reject(run, 'text-too-short', { length, minimum: minLength })
        if (length > maxLength) return reject(run, 'text-too-long', { length, maximum: maxLength })
      }
      const matches = matcher ? matcher(value, run) : true
      if (matches === undefined) return reject(run, 'pattern-slow', { value, pattern: matcher?.source ?? '' })
      if (!matches) return reject(run, 'text-pattern', { value, pattern: matcher?.source ?? '' })
      if (lines === 'single' && LINE_BREAK.test(value)) return reject(run, 'text-line-break', {})
      return value
    }
  },
  isOrdered: () => true,
  isKey: true,
  shape: () => ({ kind: 'text' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.TextHandle',
  jsonSchema({ options }) {
    const { minLength, maxLength, pattern, lines } = options
    const single = lines === 'single' ? { allOf: [{ pattern: '^[^\\r\\n]*$' }] } : {}
    return { type: 'string', ...defined({ minLength, maxLength, pattern }), ...single }
  },
}

const LINE_BREAK = /[\r\n]/
