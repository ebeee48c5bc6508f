import type { CommonOptions, Field, Nullable } from '../field.ts'
import { plainTextKind, type TextForm } from './text-form.ts'

/** Options of {@link duration}. */
export interface DurationOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link duration}. */
export interface DurationField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'duration'
  readonly options: DurationOptions
}

/**
 * A field of durations, written and kept as in ISO 8601 (the grammar of RFC 3339, appendix A): `PT1H30M`,
 * `P3D`, `P2W`. They have no order, since a month has no fixed length.
 *
 * Diagnostics: `value-type`, `form-invalid`.
 *
 * @example
 * ```ts
 * import { duration } from 'zinc-pantry'
 *
 * const stay = duration({ default: 'P1D' })
 * ```
 */
export function duration<const Options extends DurationOptions = Record<never, never>>(
  options?: Options,
): DurationField<Nullable<string, Options>> {
  return { kind: 'duration', options: options ?? {} }
}

const TIME = 'T(?:\\d+H(?:\\d+M(?:\\d+S)?)?|\\d+M(?:\\d+S)?|\\d+S)'
const DAYS = '(?:\\d+Y(?:\\d+M(?:\\d+D)?)?|\\d+M(?:\\d+D)?|\\d+D)'
const PATTERN = `^P(?:${DAYS}(?:${TIME})?|${TIME}|\\d+W)$`
const FORM = new RegExp(PATTERN)

const form: TextForm = {
  expected: 'a duration as PT1H30M',
  help: 'Durations are written as in ISO 8601: PT1H30M, P3D, P2W',
  read(value) {
    if (FORM.test(value)) return { value }
    if (/^\d+(?::\d\d)+$/.test(value)) return { reason: 'it looks like a time of day' }
    return { reason: value.startsWith('P') ? 'its parts are not in order' : 'it does not start with P' }
  },
}

export const durationKind = plainTextKind<DurationField>(form, () => ({ type: 'string', pattern: PATTERN }))
