import { describeValue } from '../../diagnostics/words.ts'
import { type Check, type CommonOptions, type Field, INVALID, type Kind, type Nullable, wrongType } from '../field.ts'

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
export interface NumberField<Value> extends Field<Value, never> {
  readonly kind: 'int' | 'number'
}

/**
 * A field of whole numbers. `12.0` is one, as in JSON Schema; beyond 2^53 numbers cannot be kept
 * exactly and are refused.
 *
 * Diagnostics: `value-type`, `number-too-small`, `number-too-large`, `number-not-multiple`,
 * `number-not-exact`.
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

function compileNumber(field: Field, whole: boolean, expected: string): Check {
  const options = field.options as NumberOptions
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = options
  return (value, run) => {
    if (typeof value !== 'number') return wrongType(run, describeValue(value), expected, hintForNumber(value))
    if (!Number.isFinite(value) || (whole && !Number.isInteger(value)))
      return wrongType(run, String(value), expected)
    const fail = (report: () => void): typeof INVALID => {
      report()
      return INVALID
    }
    if (whole && !Number.isSafeInteger(value)) return fail(() => run.report('number-not-exact', { value }))
    if (minimum !== undefined && value < minimum)
      return fail(() => run.report('number-too-small', { value, limit: minimum, exclusive: false }))
    if (exclusiveMinimum !== undefined && value <= exclusiveMinimum)
      return fail(() => run.report('number-too-small', { value, limit: exclusiveMinimum, exclusive: true }))
    if (maximum !== undefined && value > maximum)
      return fail(() => run.report('number-too-large', { value, limit: maximum, exclusive: false }))
    if (exclusiveMaximum !== undefined && value >= exclusiveMaximum)
      return fail(() => run.report('number-too-large', { value, limit: exclusiveMaximum, exclusive: true }))
    if (multipleOf !== undefined && !isMultiple(value, multipleOf))
      return fail(() => run.report('number-not-multiple', { value, step: multipleOf }))
    return value
  }
}

/** Decimal steps such as 0.1 have no exact binary form, so a quotient may miss by its rounding. */
function isMultiple(value: number, step: number): boolean {
  const quotient = value / step
  return Math.abs(quotient - Math.round(quotient)) <= Number.EPSILON * Math.max(1, Math.abs(quotient))
}

const numberKind = (whole: boolean, expected: string): Kind => ({
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
  compile: (field) => compileNumber(field, whole, expected),
  shape: () => ({ kind: 'number' }),
  valueType: () => 'number',
  handleType: () => '$.NumberHandle',
})

export const intKind = numberKind(true, 'a whole number')
export const numberFieldKind = numberKind(false, 'a number')
