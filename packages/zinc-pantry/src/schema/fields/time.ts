import { readTime, TIME_PATTERN } from '../../values/time.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { compileTextForm, type TextForm } from './text-form.ts'

/** Options of {@link time}. */
export interface TimeOptions extends CommonOptions {
  /** Earliest time allowed, as `HH:MM` or `HH:MM:SS`. Default: no limit. */
  readonly minimum?: string
  /** Latest time allowed. Default: no limit. */
  readonly maximum?: string
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link time}. */
export interface TimeField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'time'
  readonly options: TimeOptions
}

/**
 * A field of times of day without a zone, `HH:MM` or `HH:MM:SS` (ISO 8601, 24 hours). It is kept in the
 * shorter form where the seconds are 00.
 *
 * Diagnostics: `value-type`, `form-invalid`, `form-too-low`, `form-too-high`.
 *
 * @example
 * ```ts
 * import { time } from 'zinc-pantry'
 *
 * const opens = time({ minimum: '06:00' })
 * ```
 */
export function time<const Options extends TimeOptions = Record<never, never>>(
  options?: Options,
): TimeField<Nullable<string, Options>> {
  return { kind: 'time', options: options ?? {} }
}

export const timeForm: TextForm = {
  name: 'time',
  expected: 'a time as HH:MM',
  help: 'Times are written HH:MM or HH:MM:SS, from 00:00 to 23:59:59',
  read(value) {
    const read = readTime(value)
    return read === undefined ? { reason: whyNoTime(value) } : { value: read }
  },
}

/** Why a text that is no time of day is none. */
export function whyNoTime(value: string): string {
  if (/^\d:\d\d/.test(value)) return 'the hour has one digit'
  return /^\d\d:\d\d(?::\d\d)?$/.test(value) ? 'there is no such time of day' : 'it is not written as HH:MM'
}

export const timeKind: Kind<TimeField> = {
  expected: () => timeForm.expected,
  options: { minimum: 'time', maximum: 'time', default: 'any' },
  ranges: [['minimum', 'maximum']],
  constraints: () => ['minimum', 'maximum'],
  compile: (field) => compileTextForm(timeForm, field),
  isOrdered: () => true,
  shape: () => ({ kind: 'time' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.TimeHandle',
  jsonSchema: () => ({ type: 'string', pattern: TIME_PATTERN }),
}
