import { type CheckRun, INVALID } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link anything}. */
export interface AnythingOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: unknown
}

/** A field of {@link anything}. */
export interface AnythingField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'anything'
  readonly options: AnythingOptions
}

/**
 * A field of any data, kept as it is read. A word that older readers of YAML took for true or false is
 * text, and gets a warning where no other field says so.
 *
 * Diagnostics: `value-type`, `yaml-word`.
 *
 * @example
 * ```ts
 * import { anything } from 'zinc-pantry'
 *
 * const extra = anything({ optional: true })
 * ```
 */
export function anything<const Options extends AnythingOptions = Record<never, never>>(
  options?: Options,
): AnythingField<Nullable<unknown, Options>> {
  return { kind: 'anything', options: options ?? {} }
}

const WORD = /^(?:yes|no|on|off|y|n)$/i

/** Warns of words in a value; false where something in it cannot be kept as JSON. */
function inspect(value: unknown, run: CheckRun): boolean {
  if (typeof value === 'number' && !Number.isFinite(value)) {
    run.report('value-type', { seen: String(value), expected: 'a value that JSON can hold' })
    return false
  }
  if (typeof value === 'string' && WORD.test(value) && run.written(value) === value)
    run.report('yaml-word', { word: value })
  if (typeof value !== 'object' || value === null) return true
  let valid = true
  for (const [key, inner] of Object.entries(value)) {
    run.path.push(Array.isArray(value) ? Number(key) : key)
    valid = inspect(inner, run) && valid
    run.path.pop()
  }
  return valid
}

export const anythingKind: Kind<AnythingField> = {
  expected: () => 'a value',
  options: { default: 'any' },
  compile: () => (value, run) => (inspect(value, run) ? value : INVALID),
  shape: () => ({ kind: 'anything' }),
  store: storeAsIs,
  valueType: () => 'unknown',
  handleType: () => '$.AnythingHandle',
  jsonSchema: () => ({}),
}
