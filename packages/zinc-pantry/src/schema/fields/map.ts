import { isGroup, setOwn } from '../../diagnostics/own-key.ts'
import { describeValue } from '../../diagnostics/words.ts'
import { KEYS_STEP } from '../../values/steps.ts'
import type { AnyField } from '../any-field.ts'
import { type Check, type CheckRun, INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldLike, FieldOptions, Nullable, TargetsOf, ValueOf } from '../field.ts'
import { defined } from '../json-schema.ts'
import type { Kind } from '../kind.ts'
import { type ChoiceField, choiceKind } from './choice.ts'
import { checkItem } from './list.ts'
import type { RefField } from './ref.ts'
import type { TextField } from './text.ts'
import { asField } from './validator.ts'

/** Options of {@link map}, named as in JSON Schema 2020-12. */
export interface MapOptions extends CommonOptions {
  /**
   * The field of the keys: a text, a choice of words, which complete in queries, or a reference to entries by their ids, which can be
   * read backwards. Default: any key.
   */
  readonly propertyNames?: FieldLike
  /** Takes the keys of the group, or of the entry, that no other field takes. Default: false. */
  readonly rest?: boolean
  /** The map where the entry has none. */
  readonly default?: Readonly<Record<string, unknown>>
  /** Fewest keys. Default: 0. */
  readonly minProperties?: number
  /** Most keys. Default: no limit. */
  readonly maxProperties?: number
}

/** A field of {@link map}. */
export interface MapField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'map'
  /** The field of the value of each key. */
  readonly item: AnyField
  /** The field of the keys, where there is one. */
  readonly keys: AnyField | undefined
  readonly options: Omit<MapOptions, 'propertyNames'> & FieldOptions
}

/** The value of a map; of keys that are known each may be there. */
export type MapValue<Options, Value> = Options extends { readonly propertyNames: infer Keys extends FieldLike }
  ? string extends ValueOf<Keys>
    ? { readonly [key: string]: Value }
    : { readonly [Key in ValueOf<Keys> & string]?: Value }
  : { readonly [key: string]: Value }

type KeyTargets<Options> = Options extends { readonly propertyNames: infer Keys extends FieldLike }
  ? TargetsOf<Keys>
  : never

/**
 * Values of one field under keys that writers choose. With `rest` these are all keys beside those of the other fields, so that
 * nothing that a file holds is refused or left out.
 *
 * Diagnostics: `value-type`, `map-too-small`, `map-too-large`, `field-empty`, and those of the fields of its keys and values.
 *
 * @example
 * ```ts
 * import { anything, choice, map, number, ref, text } from 'zinc-pantry'
 *
 * const names = map(text(), { propertyNames: choice(['en', 'no']) })
 * const distances = map(number(), { propertyNames: ref('huts') })
 * const huts = { name: text(), others: map(anything(), { rest: true }) }
 * ```
 */
export function map<Item extends FieldLike, const Options extends MapOptions = Record<never, never>>(
  item: Item,
  options?: Options,
): MapField<Nullable<MapValue<Options, ValueOf<Item>>, Options>, TargetsOf<Item> | KeyTargets<Options>> {
  const { propertyNames, ...own }: MapOptions = options ?? {}
  return {
    kind: 'map',
    item: asField(item),
    keys: propertyNames === undefined ? undefined : asField(propertyNames),
    options: own,
  }
}

/** Kinds whose values can be keys as they are. */
const KEY_KINDS = ['text', 'choice', 'ref', 'date', 'time', 'url', 'email', 'colour', 'duration', 'validator']

/** The words that keys are, where they are few and known. */
const knownKeys = ({ keys }: MapField): readonly string[] | undefined =>
  keys?.kind === 'choice' ? choiceKind.words?.(keys as ChoiceField).choices : undefined

export const mapKind: Kind<MapField> = {
  expected: () => 'a map of keys',
  options: { rest: 'flag', default: 'any', minProperties: 'count', maxProperties: 'count' },
  ranges: [['minProperties', 'maxProperties']],
  constraints: () => ['minProperties', 'maxProperties'],
  compile(field, compiler) {
    const { minProperties = 0, maxProperties = Number.POSITIVE_INFINITY } = field.options
    const { item, keys } = field
    const checkItem = compiler.check(item)
    const checkKey = keys && compiler.check(keys)
    const checkOne = (key: string, value: unknown, run: CheckRun): unknown => {
      if (checkKey && !isSoundKey(key, checkKey, run)) return INVALID
      if (value !== null) return checkItem(value, run)
      if (item.options.optional) return null
      run.report('field-empty', { field: key, expected: compiler.expected(item) }, 'key')
      return INVALID
    }
    return (value, run) => {
      if (typeof value !== 'object' || value === null || Array.isArray(value))
        return wrongType(run, describeValue(value), 'a map of keys')
      const entries = Object.entries(value)
      const count = entries.length
      let valid = true
      if (count < minProperties) run.report('map-too-small', { count, minimum: minProperties })
      if (count > maxProperties) run.report('map-too-large', { count, maximum: maxProperties })
      if (count < minProperties || count > maxProperties) valid = false
      const result: Record<string, unknown> = {}
      for (const [key, inner] of entries) {
        run.path.push(key)
        const checked = checkOne(key, inner, run)
        run.path.pop()
        if (checked === INVALID) valid = false
        else setOwn(result, key, checked)
      }
      return valid ? result : INVALID
    }
  },
  children: ({ item, keys }) => ({ item, keys }),
  checkDeclaration(field, reader, path) {
    checkItem(field, reader, path)
    const { keys } = field
    if (keys === undefined) return
    const isById =
      keys.kind !== 'ref' || (!(keys as RefField).several && ((keys as RefField).options.by ?? 'id') === 'id')
    if (!KEY_KINDS.includes(keys.kind) || !isById)
      reader.invalid([...path, 'propertyNames'], keys, 'a field of texts, or a reference by id to one collection')
  },
  shape: (field, inner) => ({
    kind: 'map',
    item: inner(field.item),
    keys: field.keys ? inner(field.keys) : { kind: 'text' },
  }),
  store(field, context) {
    const store = context.inner(field.item)
    return (
      store &&
      ((value, owner) =>
        isGroup(value)
          ? Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, store(inner, owner)]))
          : value)
    )
  },
  valueType(field, _context, inner) {
    const known = knownKeys(field)?.map((key) => JSON.stringify(key))
    return known
      ? `{ readonly [Key in ${known.join(' | ')}]?: ${inner(field.item)} }`
      : `{ readonly [key: string]: ${inner(field.item)} }`
  },
  handleType(field, context, inner) {
    const keys: TextField | AnyField = field.keys ?? { kind: 'text', options: {} }
    const key = context.value(keys)
    const list = `$.ListHandle<${inner(keys)}> & $.HasValues<${key}>`
    return `$.MapHandle<${inner(field.item)}, ${key}, ${list}, ${context.value({ ...field, options: {} })}>`
  },
  jsonSchema(field, context) {
    const { minProperties, maxProperties } = field.options
    const propertyNames = field.keys && context.inner(field.keys)
    const additionalProperties = context.inner(field.item)
    return { type: 'object', additionalProperties, ...defined({ propertyNames, minProperties, maxProperties }) }
  },
}

/** Checks a key as a value of its own; what is wrong with it stands at the key. */
function isSoundKey(key: string, check: Check, run: CheckRun): boolean {
  run.path.push(KEYS_STEP)
  const checked = check(key, run)
  run.path.pop()
  return checked === key
}
