import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type CheckRun, INVALID, OFF, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldLike, Nullable, TargetsOf, ValueOf } from '../field.ts'
import { defined } from '../json-schema.ts'
import type { Kind } from '../kind.ts'
import type { SettingStep, SettingsReader } from '../settings-reader.ts'
import { asField } from './validator.ts'

/** Options of {@link list}, named as in JSON Schema 2020-12. */
export interface ListOptions<Item> extends CommonOptions {
  /** Fewest items. Default: 0. */
  readonly minItems?: number
  /** Most items. Default: no limit. */
  readonly maxItems?: number
  /** A single value, not in a list, is a list of one. Default: false. */
  readonly orOne?: boolean
  /** No two items may be equal. Default: false. */
  readonly uniqueItems?: boolean
  /** The value where the entry has none. */
  readonly default?: readonly Item[]
}

/** A field of {@link list}. */
export interface ListField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'list'
  /** The field of each item. */
  readonly item: AnyField
  readonly options: ListOptions<unknown>
}

/**
 * A list of values of one field, in the order of the file.
 *
 * Diagnostics: `value-type`, `list-too-short`, `list-too-long`, `list-item-repeated`, and those of
 * the item's field.
 *
 * @example
 * ```ts
 * import { group, list, number, ref, text } from 'zinc-pantry'
 *
 * const tags = list(text(), { uniqueItems: true, default: [] })
 * const words = list(text(), { orOne: true }) // words: wind, or words: [wind, snow]
 * const legs = list(group({ hut: ref('huts'), hours: number({ minimum: 0 }) }), { minItems: 1 })
 * ```
 */
export function list<Item extends FieldLike, const Options extends ListOptions<ValueOf<Item>> = Record<never, never>>(
  item: Item,
  options?: Options,
): ListField<Nullable<readonly ValueOf<Item>[], Options>, TargetsOf<Item>> {
  return { kind: 'list', item: asField(item), options: options ?? {} }
}

function hintForList(value: unknown, run: CheckRun): string | undefined {
  if (typeof value !== 'string' && typeof value !== 'number') return undefined
  const written = run.written(value)
  return written.length > 60 || written.includes('\n')
    ? 'Write it as a list, in brackets'
    : `Write it as a list: [${written}]`
}

/** A value as a text that equal values share, whatever the order of their keys. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null'
  const entries = Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1))
  return `{${entries.map(([key, inner]) => `${JSON.stringify(key)}:${canonical(inner)}`).join(',')}}`
}

/** Reports an item that stood in the list before, as it is written: so JSON Schema has it. */
function createRepeatCheck(run: CheckRun): (written: unknown, position: number) => boolean {
  const seen = new Map<string, number>()
  return (written, position) => {
    const text = canonical(written)
    const first = seen.get(text)
    if (first === undefined) seen.set(text, position + 1)
    else run.report('list-item-repeated', { value: describeValue(written), first })
    return first !== undefined
  }
}

export const listKind: Kind<ListField> = {
  expected: () => 'a list',
  options: { minItems: 'count', maxItems: 'count', uniqueItems: 'flag', orOne: 'flag', default: 'list' },
  ranges: [['minItems', 'maxItems']],
  constraints: () => ['minItems', 'maxItems'],
  compile(field, compiler) {
    const options = field.options
    const { minItems = 0, maxItems = Number.POSITIVE_INFINITY, uniqueItems = false, orOne = false } = options
    const inner = field.item
    const checkItem = compiler.check(inner)
    const { optional = false, default: absent = null } = inner.options
    return (written, run) => {
      const value = orOne && !Array.isArray(written) ? [written] : written
      if (!Array.isArray(value))
        return wrongType(run, describeValue(value), { words: 'a list', type: 'array' }, hintForList(value, run))
      let valid = true
      if (value.length < minItems) {
        run.report('list-too-short', { count: value.length, minimum: minItems })
        valid = false
      }
      if (value.length > maxItems) {
        run.report('list-too-long', { count: value.length, maximum: maxItems })
        valid = false
      }
      const items: unknown[] = []
      const isRepeated = uniqueItems ? createRepeatCheck(run) : () => false
      for (let position = 0; position < value.length; position++) {
        run.path.push(position)
        const raw = value[position] ?? absent
        const item = raw === null && optional ? null : checkItem(raw, run)
        if (item === INVALID || isRepeated(value[position], position)) valid = false
        if (item !== OFF) items.push(item)
        run.path.pop()
      }
      // A list that was added to has room for sixteen more, which its copy has not.
      return valid ? items.slice() : INVALID
    }
  },
  children: ({ item }) => ({ item }),
  readCell: (cell, { item }, { listSeparator, inner }) =>
    cell
      .trim()
      .split(listSeparator)
      .map((one) => inner(one.trim(), item)),
  checkDeclaration(field, reader, path) {
    checkItem(field, reader, path)
    if (field.options.orOne && field.item?.kind === 'list')
      reader.invalid([...path, 'orOne'], true, 'nothing, since an item is a list itself')
  },
  shape: (field, inner) => ({ kind: 'list', item: inner(field.item) }),
  store(field, context) {
    const store = context.inner(field.item)
    return store && ((value, owner) => (Array.isArray(value) ? value.map((item) => store(item, owner)) : value))
  },
  valueType: (field, _context, inner) => listOf(inner(field.item)),
  jsonSchema(field, context) {
    const { minItems, maxItems, uniqueItems, orOne } = field.options
    const items = context.inner(field.item)
    const several = { type: 'array', items, ...defined({ minItems, maxItems, uniqueItems }) }
    const takesOne = orOne && (minItems ?? 0) <= 1 && maxItems !== 0
    if (!takesOne) return several
    // A list is never taken for an item, nor is nothing, whatever the item may be.
    const isSingle = typeof items.type === 'string' && items.type !== 'array'
    return { anyOf: [several, isSingle ? items : { allOf: [{ not: { type: ['array', 'null'] } }, items] }] }
  },
  handleType: (field, context, inner) => {
    const item = field.item
    const list = `$.ListHandle<${inner(item)}>`
    const { kind } = context.shape(item)
    if (kind === 'list' || kind === 'group' || kind === 'map') return list
    const value = context.value(item).replace(/ \| null$/, '')
    return `${list} & $.HasValues<${kind === 'anything' ? `$.ScalarOf<${value}>` : value}>`
  },
}

/**
 * Checks that the item of a list or a map is not private: without its items, or keys without their values, it would
 * tell what it hides.
 */
export function checkItem(
  { kind, item }: { readonly kind: string; readonly item: unknown },
  reader: SettingsReader,
  path: SettingStep[],
): void {
  const { options } = Object(item) as Partial<AnyField>
  if (options?.private) reader.invalid([...path, 'item', 'private'], true, `nothing: make the ${kind} itself private`)
}

/** The TypeScript of a list of values of a type. Whatever is no single name or group is put into brackets. */
const listOf = (type: string): string =>
  /^[\w$.]+$/.test(type) || isGroupType(type) ? `readonly ${type}[]` : `readonly (${type})[]`

/** True for a type in braces that ends where its first brace is closed. */
function isGroupType(type: string): boolean {
  if (!type.startsWith('{')) return false
  const braces = type.replace(/"(?:\\.|[^"\\])*"/g, (text) => ' '.repeat(text.length))
  let depth = 0
  for (let at = 0; at < braces.length; at++) {
    if (braces[at] === '{') depth++
    if (braces[at] === '}' && --depth === 0) return at === braces.length - 1
  }
  return false
}
