import { describeValue } from '../../diagnostics/words.ts'
import { wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link flag}. */
export interface FlagOptions extends CommonOptions {
  /** Words that stand for true, such as `yes` or `1`, as they are written. Default: none. */
  readonly true?: readonly string[]
  /** Words that stand for false. Default: none. */
  readonly false?: readonly string[]
  /** The value where the entry has none. */
  readonly default?: boolean
}

/** A field of {@link flag}. */
export interface FlagField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'flag'
  readonly options: FlagOptions
}

/**
 * A field that is true or false. By YAML 1.2 `yes`, `no`, `on` and `off` are text, and refused where no option says what they
 * stand for.
 *
 * Diagnostics: `value-type`.
 *
 * @example
 * ```ts
 * import { flag } from 'zinc-pantry'
 *
 * const draft = flag({ default: false })
 * const open = flag({ true: ['yes', 'Y', '1'], false: ['no', 'N', '0'] })
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

/** What a word stands for; undefined for one that stands for nothing. */
function valueOfWord(word: string, { options }: FlagField): boolean | undefined {
  if (options.true?.includes(word)) return true
  return options.false?.includes(word) ? false : undefined
}

const expectedOf = ({ options }: FlagField): string =>
  ['true', ...(options.true ?? []), 'false', ...(options.false ?? [])].join(' or ')

/** A number that stands for a flag, as JSON has it. */
const asNumbers = (words: readonly string[]): number[] =>
  words.flatMap((word) => (String(Number(word)) === word ? [Number(word)] : []))

export const flagKind: Kind<FlagField> = {
  expected: expectedOf,
  options: { default: 'any', true: 'texts', false: 'texts' },
  compile(field) {
    const expected = { words: expectedOf(field), type: 'boolean' } as const
    return (value, run) => {
      if (typeof value === 'boolean') return value
      const word = typeof value === 'number' ? run.written(value) : value
      const meant = typeof word === 'string' ? valueOfWord(word, field) : undefined
      return meant ?? wrongType(run, describeValue(value), expected, hintForFlag(value))
    }
  },
  readCell: (cell, field) => valueOfWord(cell, field) ?? (/^(?:true|false)$/i.test(cell) ? /^true$/i.test(cell) : cell),
  isOrdered: () => true,
  shape: () => ({ kind: 'flag' }),
  store: storeAsIs,
  valueType: () => 'boolean',
  handleType: () => '$.FlagHandle',
  jsonSchema({ options }) {
    const words = [...(options.true ?? []), ...(options.false ?? [])]
    if (words.length === 0) return { type: 'boolean' }
    return { enum: [true, false, ...words, ...asNumbers(words)] }
  },
}
