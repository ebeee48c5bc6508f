import type { CommonOptions, Field, Nullable } from '../field.ts'
import type { Kind } from '../kind.ts'
import { plainTextKind, type TextForm } from './text-form.ts'

/** Options of {@link email}. */
export interface EmailOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link email}. */
export interface EmailField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'email'
  readonly options: EmailOptions
}

/**
 * A field of email addresses, by the rule of the HTML standard, which is what a browser's form takes.
 *
 * Diagnostics: `value-type`, `form-invalid`.
 *
 * @example
 * ```ts
 * import { email } from 'zinc-pantry'
 *
 * const contact = email({ optional: true })
 * ```
 */
export function email<const Options extends EmailOptions = Record<never, never>>(
  options?: Options,
): EmailField<Nullable<string, Options>> {
  return { kind: 'email', options: options ?? {} }
}

const LABEL = '[a-zA-Z0-9](?:[a-zA-Z0-9\\-]{0,61}[a-zA-Z0-9])?'
const PATTERN = `^[a-zA-Z0-9.!#$%&'*+\\/=?^_\`{|}~\\-]+@${LABEL}(?:\\.${LABEL})*$`
const FORM = new RegExp(PATTERN, 'u')

const form: TextForm = {
  expected: 'an email address',
  help: 'Write it as name@example.org',
  read(value) {
    if (FORM.test(value)) return { value }
    if (!value.includes('@')) return { reason: 'it has no @' }
    return { reason: /\s/.test(value) ? 'it has a space in it' : 'it is not written as name@example.org' }
  },
}

export const emailKind: Kind<EmailField> = {
  ...plainTextKind<EmailField>(form, () => ({ type: 'string', pattern: PATTERN })),
  isOrdered: () => true,
}
