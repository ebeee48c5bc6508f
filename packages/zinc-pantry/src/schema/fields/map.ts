import { isGroup, setOwn } from '../../diagnostics/own-key.ts'
import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type CheckRun, INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldLike, FieldOptions, Nullable, TargetsOf, ValueOf } from '../field.ts'
import { defined } from '../json-schema.ts'
import type { Kind } from '../kind.ts'
import { compilePattern } from '../pattern.ts'
import { checkItem } from './list.ts'
import { asField } from './validator.ts'

/** Options of {@link map}, named as in JSON Schema 2020-12. */
export interface MapOptions extends CommonOptions {
  /** An ECMAScript regular expression, with the u flag, that every key must match. Default: any key. */
  readonly keyPattern?: string
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
  readonly options: MapOptions & FieldOptions
}

/**
 * Values of one field under keys that writers choose. With `rest` these are all keys beside those of the other fields, so that
 * nothing that a file holds is refused or left out.
 *
 * Diagnostics: `value-type`, `map-key-pattern`, `pattern-slow`, `map-too-small`, `map-too-large`, `field-empty`, and those of
 * the field.
 *
 * @example
 * ```ts
 * import { anything, map, text } from 'zinc-pantry'
 *
 * const translations = map(text(), { keyPattern: '^[a-z]{2}$' })
 * const huts = { name: text(), others: map(anything(), { rest: true }) }
 * ```
 */
export function map<Item extends FieldLike, const Options extends MapOptions = Record<never, never>>(
  item: Item,
  options?: Options,
): MapField<Nullable<{ readonly [key: string]: ValueOf<Item> }, Options>, TargetsOf<Item>> {
  return { kind: 'map', item: asField(item), options: options ?? {} }
}

export const mapKind: Kind<MapField> = {
  expected: () => 'a map of keys',
  options: { keyPattern: 'pattern', rest: 'flag', default: 'any', minProperties: 'count', maxProperties: 'count' },
  ranges: [['minProperties', 'maxProperties']],
  compile(field, compiler) {
    const { keyPattern, minProperties = 0, maxProperties = Number.POSITIVE_INFINITY } = field.options
    const matcher = keyPattern === undefined ? undefined : compilePattern(keyPattern)
    const item = field.item
    const checkItem = compiler.check(item)
    const checkOne = (key: string, value: unknown, run: CheckRun): unknown => {
      const matches = matcher ? matcher(key, run) : true
      if (matches === undefined) run.report('pattern-slow', { value: key, pattern: matcher?.source ?? '' }, 'key')
      else if (!matches) run.report('map-key-pattern', { key, pattern: matcher?.source ?? '' }, 'key')
      else if (value !== null) return checkItem(value, run)
      else if (item.options.optional) return null
      else run.report('field-empty', { field: key, expected: compiler.expected(item) }, 'key')
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
  children: ({ item }) => ({ item }),
  checkDeclaration: checkItem,
  shape: () => ({ kind: 'anything' }),
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
  valueType: (field, _context, inner) => `{ readonly [key: string]: ${inner(field.item)} }`,
  handleType: () => '$.AnythingHandle',
  jsonSchema(field, context) {
    const { keyPattern, minProperties, maxProperties } = field.options
    const propertyNames = keyPattern === undefined ? undefined : { pattern: keyPattern }
    const additionalProperties = context.inner(field.item)
    return { type: 'object', additionalProperties, ...defined({ propertyNames, minProperties, maxProperties }) }
  },
}
