import { describeValue, listNames } from '../../diagnostics/words.ts'
import { wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import type { JsonSchema } from '../json-schema.ts'
import { type Kind, type SchemaContext, storeAsIs, type TypeContext } from '../kind.ts'
import { hintForText } from './text.ts'

/** Options of {@link ref}. */
export interface RefOptions extends CommonOptions {
  /**
   * The key that the text is compared with: the `id` of the target, its `slug`, or the value of one of its fields.
   * The entry then holds the id, whatever was written. Default: `id`.
   */
  readonly by?: string
  /**
   * Whether it may create an entry that is missing, in a collection with `createFrom`; where not, such a reference is a
   * problem. Default: true.
   */
  readonly create?: boolean
  /** The text where the entry has none. */
  readonly default?: string
}

/** A field of {@link ref}. */
export interface RefField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'ref'
  /** The collections that it may lead to. */
  readonly targets: readonly string[]
  /** True where its value says which collection it leads to. */
  readonly several?: boolean
  readonly options: RefOptions
}

/** The value of a reference to one of several collections. */
export interface EntryAddress<Collection extends string> {
  readonly collection: Collection
  readonly id: string
}

/** The value of a reference: an id, or an address where it may lead to several collections. */
export type RefValue<Target extends string | readonly string[]> = Target extends readonly (infer One extends string)[]
  ? EntryAddress<One>
  : string

type Names<Target extends string | readonly string[]> = Target extends readonly (infer One extends string)[]
  ? One
  : Target

/**
 * A reference to an entry of another collection, or of its own. A name that is no collection of the
 * configuration is a type error; an id that is no entry is a diagnostic. A number counts as the id that
 * is written, so `007` is the id `"007"`.
 *
 * With several collections the value is `{ collection, id }`; writers put the collection before the id,
 * `huts/gable`, or leave it away where only one of the collections has such an entry.
 *
 * Diagnostics: `value-type`, `ref-dangling`, `ref-ambiguous`, `ref-target-failed`.
 *
 * @example
 * ```ts
 * import { list, ref } from 'zinc-pantry'
 *
 * const region = ref('regions')
 * const wardens = list(ref('wardens', { by: 'slug' }), { minItems: 1 })
 * const about = ref(['huts', 'trails'], { optional: true })
 * ```
 */
export function ref<
  const Target extends string | readonly string[],
  const Options extends RefOptions = Record<never, never>,
>(target: Target, options?: Options): RefField<Nullable<RefValue<Target>, Options>, Names<Target> & string> {
  const targets: readonly string[] = typeof target === 'string' ? [target] : target
  const kind = { kind: 'ref', targets, options: options ?? {} } as const
  return typeof target === 'string' ? kind : { ...kind, several: true }
}

/** The one collection that a reference leads to, or undefined where there are several. */
export const onlyTarget = ({ targets, several }: RefField): string | undefined => (several ? undefined : targets[0])

const expected = (field: RefField): string =>
  `the ${field.options.by ?? 'id'} of an entry of ${listWords(field.targets)}`

const listWords = (names: readonly string[]): string => (names.length === 1 ? (names[0] ?? '') : listNames(names))

const literals = (names: readonly string[]): string => names.map((name) => JSON.stringify(name)).join(' | ')

function addressType(targets: readonly string[], context: TypeContext): string {
  return targets
    .map((target) => `{ readonly collection: ${JSON.stringify(target)}; readonly id: ${context.idType(target)} }`)
    .join(' | ')
}

export const refKind: Kind<RefField> = {
  expected,
  options: { by: 'text', create: 'flag', default: 'any' },
  compile(field) {
    const { targets, several = false } = field
    const { by = 'id', create = true } = field.options
    return (value, run) => {
      // An id may look like a number; what counts is what is written, not what it reads as.
      const text = typeof value === 'number' ? run.written(value) : value
      if (typeof text !== 'string') return wrongType(run, describeValue(value), expected(field), hintForText(value))
      if (text === '') return wrongType(run, 'empty text', expected(field))
      return run.reference({ targets, by, text, several, isFound: create ? undefined : true })
    }
  },
  leading: ({ targets, options: { by = 'id' } }) => ({ targets, by }),
  isOrdered: (field) => onlyTarget(field) !== undefined,
  checkDeclaration({ targets, several }, reader, path) {
    if (!targets?.length || targets.some((target) => typeof target !== 'string'))
      reader.invalid(path, several ? targets : targets?.[0], 'the name of a collection')
  },
  shape(field) {
    const target = onlyTarget(field)
    if (target !== undefined) return { kind: 'ref', target }
    return {
      kind: 'group',
      fields: { collection: { kind: 'plain', choices: field.targets }, id: { kind: 'text' } },
      targets: field.targets,
    }
  },
  store: storeAsIs,
  valueType(field, context) {
    const target = onlyTarget(field)
    const type = target === undefined ? addressType(field.targets, context) : context.idType(target)
    return context.mayDangle && field.options.optional !== true ? `${type} | null` : type
  },
  handleType(field, context) {
    const type = plainHandle(field, context)
    return context.mayDangle && field.options.optional !== true ? `$.Optional<${type}>` : type
  },
  jsonSchema: targetSchema,
}

const ANY_TEXT: JsonSchema = { type: ['string', 'number'], minLength: 1 }

/** Texts that lead somewhere, with what people call it, where they are known; any text where there may be others. */
function targetSchema({ targets, several, options }: RefField, { entries, isOpen }: SchemaContext): JsonSchema {
  const { by = 'id', create = true } = options
  const known = targets.map((target) => ({ target, texts: entries?.(target, by) }))
  if (known.some(({ texts }) => texts === undefined)) return ANY_TEXT
  const choices = known.flatMap(({ target, texts = [] }) =>
    texts.flatMap(({ text, label }) => {
      const values = [
        text,
        ...(several ? [`${target}/${text}`] : []),
        ...(String(Number(text)) === text ? [Number(text)] : []),
      ]
      return values.map((value) => ({ const: value, title: label }))
    }),
  )
  const once = [...new Map(choices.map((one) => [JSON.stringify(one.const), one])).values()]
  const mayCreate = create && targets.some(isOpen)
  if (once.length === 0) return mayCreate ? ANY_TEXT : { enum: [] }
  return mayCreate ? { anyOf: [{ oneOf: once }, ANY_TEXT] } : { oneOf: once }
}

/** The handle of a reference that leads somewhere. */
function plainHandle(field: RefField, context: TypeContext): string {
  const target = onlyTarget(field)
  if (target !== undefined) return `$.RefHandle<${context.idType(target)}> & ${context.fieldsType(target)}`
  const { targets } = field
  const ids = targets.map((name) => context.idType(name)).join(' | ')
  const common = `$.Common<${targets.map((name) => context.fieldsType(name)).join(' | ')}>`
  return `$.GroupHandle<${addressType(targets, context)}> & { readonly collection: $.ChoiceHandle<${literals(targets)}>; readonly id: $.ValueHandle<${ids}> } & ${common}`
}
