import { describeValue } from '../../diagnostics/words.ts'
import { type Check, type CheckRun, INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { defined } from '../json-schema.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link int} and {@link number}, named as in JSON Schema 2020-12. */
export interface NumberOptions extends CommonOptions {
  /** Smallest value allowed. Default: no limit. */
  readonly minimum?: number
  /** Largest value allowed. Default: no limit. */
  readonly maximum?: number
  /** The value must be larger than this. Default: no limit. */
  readonly exclusiveMinimum?: number
  /** The value must be smaller than this. Default: no limit. */
  readonly exclusiveMaximum?: number
  /** The value must be a whole multiple of this, more than 0. Default: any. */
  readonly multipleOf?: number
  /** The value where the entry has none. */
  readonly default?: number
}

/** A field of {@link int} or {@link number}. */
export interface NumberField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'int' | 'number'
  readonly options: NumberOptions
}

/**
 * A field of whole numbers. `12.0` is one, as in JSON Schema; beyond 2^53 numbers cannot be kept
 * exactly and are refused.
 *
 * Diagnostics: `value-type`, `number-too-small`, `number-too-large`, `number-not-multiple`,
 * `number-not-exact`, `number-leading-zero`.
 *
 * @example
 * ```ts
 * import { int } from 'zinc-pantry'
 *
 * const beds = int({ minimum: 0, maximum: 200 })
 * ```
 */
export function int<const Options extends NumberOptions = Record<never, never>>(
  options?: Options,
): NumberField<Nullable<number, Options>> {
  return { kind: 'int', options: options ?? {} }
}

/**
 * A field of numbers. Infinity and NaN, which YAML can write, are refused: JSON has no such values.
 *
 * Diagnostics: `value-type`, `number-too-small`, `number-too-large`, `number-not-multiple`.
 *
 * @example
 * ```ts
 * import { number } from 'zinc-pantry'
 *
 * const distance = number({ exclusiveMinimum: 0, description: 'Kilometres' })
 * ```
 */
export function number<const Options extends NumberOptions = Record<never, never>>(
  options?: Options,
): NumberField<Nullable<number, Options>> {
  return { kind: 'number', options: options ?? {} }
}

function hintForNumber(value: unknown): string | undefined {
  if (typeof value !== 'string' || value.trim() === '' || Number.isNaN(Number(value))) return undefined
  return `Remove the quotes: ${Number(value)}`
}

/** One limit: whether a number is within it, and how it is reported. */
interface Limit {
  readonly code: 'number-too-small' | 'number-too-large'
  readonly limit: number
  readonly exclusive: boolean
  holds(value: number): boolean
}

function limitsOf({ minimum, maximum, exclusiveMinimum, exclusiveMaximum }: NumberOptions): Limit[] {
  const limits: Limit[] = []
  const add = (
    limit: number | undefined,
    code: Limit['code'],
    exclusive: boolean,
    holds: (value: number, limit: number) => boolean,
  ) => {
    if (limit !== undefined) limits.push({ code, limit, exclusive, holds: (value) => holds(value, limit) })
  }
  add(minimum, 'number-too-small', false, (value, limit) => value >= limit)
  add(exclusiveMinimum, 'number-too-small', true, (value, limit) => value > limit)
  add(maximum, 'number-too-large', false, (value, limit) => value <= limit)
  add(exclusiveMaximum, 'number-too-large', true, (value, limit) => value < limit)
  return limits
}

function compileNumber(field: NumberField, whole: boolean, expected: string): Check {
  const options = field.options
  const { multipleOf } = options
  const limits = limitsOf(options)
  return (value, run) => {
    if (typeof value !== 'number') {
      const type = whole ? 'integer' : 'number'
      return wrongType(run, describeValue(value), { words: expected, type }, hintForNumber(value))
    }
    if (!Number.isFinite(value) || (whole && !Number.isInteger(value))) return wrongType(run, String(value), expected)
    const broken = limits.find(({ holds }) => !holds(value))
    if (whole && !Number.isSafeInteger(value)) run.report('number-not-exact', { value })
    else if (broken) run.report(broken.code, { value, limit: broken.limit, exclusive: broken.exclusive })
    else if (multipleOf !== undefined && !isMultiple(value, multipleOf))
      run.report('number-not-multiple', { value, step: multipleOf })
    else {
      if (run.hasLeadingZeros) warnOfZeros(value, run)
      return value
    }
    return INVALID
  }
}

/** Old readers took `010` for 8; YAML 1.2 reads it as 10. */
function warnOfZeros(value: number, run: CheckRun): void {
  const written = run.written(value)
  if (/^[-+]?0\d/.test(written)) run.report('number-leading-zero', { written, value })
}

/** Decimal steps such as 0.1 have no exact binary form, so a quotient may miss by its rounding. */
function isMultiple(value: number, step: number): boolean {
  const quotient = value / step
  return Math.abs(quotient - Math.round(quotient)) <= Number.EPSILON * Math.max(1, Math.abs(quotient))
}

/** A number in a cell of a table. */
const NUMBER = /^[-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?$/

const numberKind = (whole: boolean, expected: string): Kind<NumberField> => ({
  expected: () => expected,
  options: {
    minimum: 'number',
    maximum: 'number',
    exclusiveMinimum: 'number',
    exclusiveMaximum: 'number',
    multipleOf: 'positive',
    default: 'any',
  },
  ranges: [
    ['minimum', 'maximum'],
    ['exclusiveMinimum', 'exclusiveMaximum'],
  ],
  constraints: () => ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf'],
  compile: (field) => compileNumber(field, whole, expected),
  readCell(cell) {
    const text = cell.trim()
    return NUMBER.test(text) ? Number(text) : cell
  },
  ...(whole ? { isKey: true } : {}),
  isOrdered: () => true,
  shape: () => ({ kind: 'number' }),
  store: storeAsIs,
  valueType: () => 'number',
  handleType: () => '$.NumberHandle',
  jsonSchema({ options }) {
    const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = options
    const limits = { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf }
    if (!whole) return { type: 'number', ...defined(limits) }
    const safe = { minimum: minimum ?? Number.MIN_SAFE_INTEGER, maximum: maximum ?? Number.MAX_SAFE_INTEGER }
    return { type: 'integer', ...defined({ ...limits, ...safe }) }
  },
})

export const intKind = numberKind(true, 'a whole number')
export const numberFieldKind = numberKind(false, 'a number')
