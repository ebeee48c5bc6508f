import { describeValue } from '../../diagnostics/words.ts'
import { type CommonOptions, type Field, INVALID, type Kind, type Nullable, storeAsIs, wrongType } from '../field.ts'

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
export interface DateField<Value> extends Field<Value, never> {
  readonly kind: 'date'
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

const FORM = /^(\d{4})-(\d{2})-(\d{2})$/
const MONTHS = 'January February March April May June July August September October November December'.split(' ')

/** Why a text is no calendar date, or undefined when it is one. */
export function whyNoDate(value: string): string | undefined {
  const parts = FORM.exec(value)
  if (!parts) {
    return /^\d{4}-\d{2}-\d{2}[T ]/.test(value) ? 'it has a time of day' : 'it is not written as YYYY-MM-DD'
  }
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])]
  const name = MONTHS[month - 1]
  if (!name) return `there is no month ${parts[2]}`
  const days = daysInMonth(year, month)
  if (day < 1) return 'there is no day 00'
  return day > days ? `${name} ${parts[1]} has ${days} days` : undefined
}

function daysInMonth(year: number, month: number): number {
  if (month === 2) return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28
  return [4, 6, 9, 11].includes(month) ? 30 : 31
}

export const dateKind: Kind = {
  expected: () => 'a date as YYYY-MM-DD',
  options: { minimum: 'date', maximum: 'date', default: 'any' },
  ranges: [['minimum', 'maximum']],
  compile(field) {
    const { minimum, maximum } = field.options as DateOptions
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
  shape: () => ({ kind: 'date' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.DateHandle',
  // JSON Schema has no keywords for the first and the last day.
  jsonSchema: () => ({ type: 'string', format: 'date' }),
}
