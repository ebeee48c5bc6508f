import { describeValue } from '../../diagnostics/words.ts'
import { isDate } from '../../values/date.ts'
import { INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link date}. */
export interface DateOptions extends CommonOptions {
  /** Earliest day allowed, as `YYYY-MM-DD`. Default: no limit. */
  readonly minimum?: string
  /** Latest day allowed, as `YYYY-MM-DD`. Default: no limit. */
  readonly maximum?: string
  /** The value where the entry has none, as `YYYY-MM-DD`. */
  readonly default?: string
}

/** A field of {@link date}. */
export interface DateField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'date'
  readonly options: DateOptions
}

/**
 * A field of calendar dates, written and kept as `YYYY-MM-DD` (ISO 8601). A calendar date has no time
 * and no zone, so it is never shifted. In YAML it needs no quotes.
 *
 * Diagnostics: `value-type`, `date-invalid`, `date-too-early`, `date-too-late`.
 *
 * @example
 * ```ts
 * import { date } from 'zinc-pantry'
 *
 * const opened = date({ optional: true, minimum: '1890-01-01' })
 * ```
 */
export function date<const Options extends DateOptions = Record<never, never>>(
  options?: Options,
): DateField<Nullable<string, Options>> {
  return { kind: 'date', options: options ?? {} }
}

const MONTHS = 'January February March April May June July August September October November December'.split(' ')

/** Why a text is no calendar date, or undefined when it is one. */
export function whyNoDate(value: string): string | undefined {
  if (isDate(value)) return undefined
  const [, year = '', month = '', day] = /^(\d{4})-(\d{2})-(\d{2})$/.exec(value) ?? []
  if (day === undefined)
    return /^\d{4}-\d{2}-\d{2}[T ]/.test(value) ? 'it has a time of day' : 'it is not written as YYYY-MM-DD'
  const name = MONTHS[Number(month) - 1]
  if (!name) return `there is no month ${month}`
  if (day === '00') return 'there is no day 00'
  const days = [31, 30, 29, 28].find((last) => isDate(`${year}-${month}-${last}`))
  return `${name} ${year} has ${days} days`
}

export const dateKind: Kind<DateField> = {
  expected: () => 'a date as YYYY-MM-DD',
  options: { minimum: 'date', maximum: 'date', default: 'any' },
  ranges: [['minimum', 'maximum']],
  constraints: () => ['minimum', 'maximum'],
  compile(field) {
    const { minimum, maximum } = field.options
    return (value, run) => {
      if (typeof value !== 'string') return wrongType(run, describeValue(value), 'a date as YYYY-MM-DD')
      const reason = whyNoDate(value)
      if (reason !== undefined) {
        run.report('date-invalid', { value, reason })
        return INVALID
      }
      // Dates in this form sort as text.
      if (minimum !== undefined && value < minimum) {
        run.report('date-too-early', { value, limit: minimum })
        return INVALID
      }
      if (maximum !== undefined && value > maximum) {
        run.report('date-too-late', { value, limit: maximum })
        return INVALID
      }
      return value
    }
  },
  isOrdered: () => true,
  shape: () => ({ kind: 'date' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.DateHandle',
  // JSON Schema has no keywords for the first and the last day.
  jsonSchema: () => ({ type: 'string', format: 'date' }),
}
