import { describeValue } from '../../diagnostics/words.ts'
import { wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link flag}. */
export interface FlagOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: boolean
}

/** A field of {@link flag}. */
export interface FlagField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'flag'
  readonly options: FlagOptions
}

/**
 * A field that is true or false. By YAML 1.2 `yes`, `no`, `on` and `off` are text and refused.
 *
 * Diagnostics: `value-type`.
 *
 * @example
 * ```ts
 * import { flag } from 'zinc-pantry'
 *
 * const draft = flag({ default: false })
 * ```
 */
export function flag<const Options extends FlagOptions = Record<never, never>>(
  options?: Options,
): FlagField<Nullable<boolean, Options>> {
  return { kind: 'flag', options: options ?? {} }
}

const YES = /^(?:yes|on|y|true|1)$/i
const NO = /^(?:no|off|n|false|0)$/i

function hintForFlag(value: unknown): string | undefined {
  const seen = String(value)
  const meant = YES.test(seen) ? 'true' : NO.test(seen) ? 'false' : undefined
  return seen === meant ? `Remove the quotes: ${meant}` : meant && `Write ${meant}`
}

export const flagKind: Kind<FlagField> = {
  expected: () => 'true or false',
  options: { default: 'any' },
  compile: () => (value, run) =>
    typeof value === 'boolean'
      ? value
      : wrongType(run, describeValue(value), { words: 'true or false', type: 'boolean' }, hintForFlag(value)),
  readCell(cell) {
    const text = cell.trim()
    return /^(?:true|false)$/i.test(text) ? text.toLowerCase() === 'true' : cell
  },
  isOrdered: () => true,
  shape: () => ({ kind: 'flag' }),
  store: storeAsIs,
  valueType: () => 'boolean',
  handleType: () => '$.FlagHandle',
  jsonSchema: () => ({ type: 'boolean' }),
}
