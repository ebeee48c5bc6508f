import type { CommonOptions, Field, TargetsOf, ValueOf } from '../field.ts'

/** Options that a use of a shared field may set anew. */
export interface AdaptOptions extends CommonOptions {
  readonly minLength?: number
  readonly maxLength?: number
  readonly pattern?: string
  readonly lines?: 'single' | 'many'
  readonly minimum?: number | string
  readonly maximum?: number | string
  readonly exclusiveMinimum?: number
  readonly exclusiveMaximum?: number
  readonly multipleOf?: number
  readonly minItems?: number
  readonly maxItems?: number
  readonly uniqueItems?: boolean
  readonly default?: unknown
}

type Adapted<Value, Options> = Options extends { readonly optional: true }
  ? Value | null
  : Options extends { readonly optional: false }
    ? NonNullable<Value>
    : Value

/**
 * A field as another one, with some options set anew for this use; the shared field stays as it is, and hints are added
 * to those that it has. Where
 * a use allows what the shared field refuses, the configuration gets a warning.
 *
 * Diagnostics: `config-field-loosened`.
 *
 * @example
 * ```ts
 * import { adapt, text } from 'zinc-pantry'
 *
 * const listed = { title: text({ maxLength: 80 }), summary: text({ optional: true }) }
 * const fields = { ...listed, summary: adapt(listed.summary, { optional: false, maxLength: 200 }) }
 * ```
 */
export function adapt<Shared extends Field, const Options extends AdaptOptions>(
  field: Shared,
  options: Options,
): Field<Adapted<ValueOf<Shared>, Options>, TargetsOf<Shared>> {
  const hints = { ...field.options.hints, ...options.hints }
  const own = { ...field.options, ...options, ...(Object.keys(hints).length > 0 ? { hints } : {}) }
  return { ...field, options: own, base: field } as Field as Field<Adapted<ValueOf<Shared>, Options>, TargetsOf<Shared>>
}
