import type { WrittenGroup } from '../change/written-fields.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { isRest, writtenKey } from '../schema/written-key.ts'
import type { FormatName } from '../values/format-names.ts'
import { describeField, expectedWithItems, isRequired } from './describe-field.ts'
import { MARK } from './find-cursor.ts'
import type { Token } from './find-token.ts'
import type { Offer } from './offer.ts'

/** The keys that a group may still have, what is required first. */
export function offerKeys(
  { level, group, blocks }: Pick<WrittenGroup, 'level' | 'group' | 'blocks'>,
  token: Token,
  { format, indent }: { readonly format: FormatName; readonly indent: string },
): Offer[] {
  const isTable = format === 'csv' || format === 'tsv'
  const shape = shapeOf(level.fields, group)
  const fields = isTable ? asHeadings(shape.fields) : shape.fields
  const open = Object.entries(fields).flatMap(([name, field]): { key: string; field: AnyField }[] => {
    const key = writtenKey(name, field)
    const isThere = Object.hasOwn(group, key) && key !== MARK
    return isRest(field) || kindOf(field).computed || isThere ? [] : [{ key, field }]
  })
  const sorted = [...open.filter((one) => isRequired(one.field)), ...open.filter((one) => !isRequired(one.field))]
  const offers = sorted.map(({ key, field }): Offer => {
    const text =
      token.isKey || isTable
        ? writeKey(key, format)
        : writePair(key, field, { format, indent, isInFlow: token.isInFlow })
    return {
      ...{ label: key, kind: 'key', text, span: token.span, sought: `${key} ${field.options.label ?? ''}`.trim() },
      detail: `${expectedWithItems(field)}${isRequired(field) ? ', required' : ''}`,
      help: () => describeField(key, field),
      isDeprecated: field.options.deprecated === true,
    }
  })
  if (!blocks || Object.hasOwn(group, blocks.key)) return offers
  const text = token.isKey ? writeKey(blocks.key, format) : `${writeKey(blocks.key, format)}${SIGNS[format] ?? ': '}`
  const detail = 'says which block it is'
  return [{ label: blocks.key, kind: 'key', text, span: token.span, sought: blocks.key, detail }, ...offers]
}

/** The fields of the shape that a group says it has. */
function shapeOf(
  fields: WrittenGroup['level']['fields'],
  group: Readonly<Record<string, unknown>>,
): { readonly fields: Fields } {
  const { key, alternatives } = alternativesOf(fields)
  const said = key === undefined ? undefined : alternatives.find(({ name }) => name === group[key])
  const [first = { fields: {} }] = alternatives
  // While nothing says which, only what all shapes share can be told.
  return said ?? (key === undefined ? first : { fields: sharedFields(alternatives.map((one) => one.fields)) })
}

function sharedFields(all: readonly WrittenGroup['level']['fields'][]): WrittenGroup['level']['fields'] {
  const [first = {}, ...others] = all
  return Object.fromEntries(Object.entries(first).filter(([name]) => others.every((one) => Object.hasOwn(one, name))))
}

const SIGNS: Partial<Record<FormatName, string>> = { toml: ' = ' }

function writeKey(key: string, format: FormatName): string {
  if (format === 'json' || format === 'jsonc' || format === 'jsonl') return JSON.stringify(key)
  if (format === 'csv' || format === 'tsv') return key
  return /^[\w-]+$/.test(key) ? key : JSON.stringify(key)
}

/** A key with the beginning of its value. */
function writePair(
  key: string,
  field: AnyField,
  { format, indent, isInFlow }: { readonly format: FormatName; readonly indent: string; readonly isInFlow: boolean },
): string {
  const { item, fields } = childrenOf(field)
  const isList = field.kind === 'list' && item !== undefined
  const name = writeKey(key, format)
  if (format === 'yaml' && !isInFlow) return fields || isList ? `${name}:\n${indent}  ` : `${name}: `
  if (format === 'yaml') return `${name}: ${isList ? '[]' : fields ? '{}' : ''}`
  const value = valueToBegin(field, format)
  return format === 'toml' ? `${name} = ${value}` : `${name}: ${value}`
}

/** A value to begin with: what the schema itself gives, or the least; null where there need be none and the format has it. */
function valueToBegin(field: AnyField, format: FormatName): string {
  const { fields, item } = childrenOf(field)
  if (field.options.optional && format !== 'toml') return 'null'
  if (field.kind === 'list' && item) return '[]'
  if (fields) {
    const sign = format === 'toml' ? ' = ' : ': '
    const pairs = Object.entries(fields)
      .filter(([, one]) => isRequired(one))
      .map(([name, one]) => `${writeKey(writtenKey(name, one), format)}${sign}${valueToBegin(one, format)}`)
    return pairs.length > 0 ? `{ ${pairs.join(', ')} }` : '{}'
  }
  const { default: absent, minimum } = field.options as { readonly default?: unknown; readonly minimum?: unknown }
  const [example] = field.options.examples ?? []
  const [word] = kindOf(field).words?.(field)?.choices ?? []
  const given = absent ?? example ?? word ?? minimum
  if (given !== undefined && typeof given !== 'object') return JSON.stringify(given)
  if (field.kind === 'flag') return 'false'
  return field.kind === 'number' ? '0' : '""'
}

/** Fields as the headings of a table: those of groups behind dots. */
const asHeadings = (fields: Fields): Fields =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([name, field]): [string, AnyField][] => {
      const { fields: inner } = childrenOf(field)
      const key = writtenKey(name, field)
      return inner ? Object.entries(asHeadings(inner)).map(([one, own]) => [`${key}.${one}`, own]) : [[name, field]]
    }),
  )
