import { describeValue } from '../../diagnostics/words.ts'
import { type CommonOptions, type Field, INVALID, type Kind, type Nullable, wrongType } from '../field.ts'
import { hintForText } from './text.ts'

/** Options of {@link ref}. */
export interface RefOptions extends CommonOptions {
  /** The id where the entry has none. */
  readonly default?: string
}

/** A field of {@link ref}. */
export interface RefField<Value, Target extends string> extends Field<Value, Target> {
  readonly kind: 'ref'
}

/**
 * A reference: the id of an entry of another collection, or of its own. A name that is no collection
 * of the configuration is a type error; an id that is no entry is a diagnostic. A number counts as the
 * id that is written, so `007` is the id `"007"`.
 *
 * Diagnostics: `value-type`, `ref-dangling`, `ref-target-failed`.
 *
 * @example
 * ```ts
 * import { list, ref } from 'zinc-pantry'
 *
 * const region = ref('regions')
 * const wardens = list(ref('wardens'), { minItems: 1 })
 * ```
 */
export function ref<const Target extends string, const Options extends RefOptions = Record<never, never>>(
  target: Target,
  options?: Options,
): RefField<Nullable<string, Options>, Target> {
  return { kind: 'ref', target, options: options ?? {} }
}

const expected = (field: Field): string => `the id of an entry of ${field.target}`

export const refKind: Kind = {
  expected,
  options: { default: 'any' },
  compile(field) {
    const target = field.target ?? ''
    return (value, run) => {
      // An id may look like a number; what counts is what is written, not what it reads as.
      const id = typeof value === 'number' ? run.written(value) : value
      if (typeof id !== 'string') return wrongType(run, describeValue(value), expected(field), hintForText(value))
      if (id === '') {
        run.report('value-type', { seen: 'empty text', expected: expected(field) })
        return INVALID
      }
      run.reference(target, id)
      return id
    }
  },
  shape: (field) => ({ kind: 'ref', target: field.target ?? '' }),
  valueType: (field, context) => context.idType(field.target ?? ''),
  handleType: (field, context) => {
    const target = field.target ?? ''
    return `$.RefHandle<${context.idType(target)}> & ${context.fieldsType(target)}`
  },
}
