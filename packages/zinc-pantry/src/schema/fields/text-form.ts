import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type Check, INVALID, wrongType } from '../check-run.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** A text of a fixed form, such as a time of day. */
export interface TextForm<Own extends AnyField = AnyField> {
  /** The name of the form, for edits that know it. */
  readonly name?: 'time'
  /** For messages: `a time as HH:MM`. */
  readonly expected: string
  /** The value as it is kept, or why the text is not of the form. */
  read(value: string, field: Own): { readonly value: string } | { readonly reason: string }
  /** How to write it, for help. */
  readonly help: string
}

/**
 * The check of a text of a fixed form, with the limits `minimum` and `maximum` where it has an order.
 *
 * Diagnostics: `value-type`, `form-invalid`, `form-too-low`, `form-too-high`.
 */
export function compileTextForm<Own extends AnyField>(form: TextForm<Own>, field: Own): Check {
  const { expected, help } = form
  const limits = field.options as { minimum?: string; maximum?: string }
  const canonical = (limit: string | undefined): string | undefined => {
    const read = limit === undefined ? undefined : form.read(limit, field)
    return read && 'value' in read ? read.value : undefined
  }
  const minimum = canonical(limits.minimum)
  const maximum = canonical(limits.maximum)
  return (value, run) => {
    if (typeof value !== 'string') return wrongType(run, describeValue(value), expected)
    const read = form.read(value, field)
    if ('reason' in read) run.report('form-invalid', { value, expected, reason: read.reason, help, form: form.name })
    else if (minimum !== undefined && read.value < minimum)
      run.report('form-too-low', { value, limit: limits.minimum ?? '' })
    else if (maximum !== undefined && read.value > maximum)
      run.report('form-too-high', { value, limit: limits.maximum ?? '' })
    else return read.value
    return INVALID
  }
}

/** A kind for texts of a form without an order. */
export const plainTextKind = <Own extends AnyField>(
  form: TextForm<Own>,
  jsonSchema: Kind<Own>['jsonSchema'],
): Kind<Own> => ({
  expected: () => form.expected,
  options: { default: 'any' },
  compile: (field) => compileTextForm(form, field),
  shape: () => ({ kind: 'plain' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.ValueHandle<string>',
  jsonSchema,
})
