import type { FieldModel } from 'zinc-pantry/inspect'
import type { NamedField } from '../site/model.ts'
import { itemOf } from '../site/model.ts'

/** How a field can be filtered: by its values, by a range, or by whether it has one. */
export type FilterKind = 'values' | 'range' | 'presence'

const RANGES: Readonly<Record<string, string>> = {
  int: 'number',
  number: 'number',
  date: 'date',
  instant: 'date',
  time: 'time',
}

/** The kind of a filter of a field; undefined where there is none. */
export function filterKindOf(field: FieldModel): FilterKind | undefined {
  const { kind, leadsTo } = itemOf(field)
  if (kind === 'choice' || kind === 'variant' || kind === 'flag') return 'values'
  if (kind === 'ref' && leadsTo?.targets.length === 1) return 'values'
  if (RANGES[kind] !== undefined && field.kind !== 'list') return 'range'
  return field.need === 'optional' ? 'presence' : undefined
}

/** The type of input for the bounds of a range. */
export const rangeInputOf = (field: FieldModel): string => RANGES[itemOf(field).kind] ?? 'text'

/** Writes a value as the text form of conditions has it. */
export const quote = (value: string): string =>
  /^[\p{L}\p{N}_./-]+$/u.test(value) &&
  !/^(?:and|or|not|in|between|present|absent|some|every|none|true|false)$/i.test(value)
    ? value
    : `"${value.replaceAll('\\', '\\\\').replaceAll('"', '\\"')}"`

/** Writes the condition of all filters of an address, and of what was written beside them. */
export function writeFilters(values: URLSearchParams, fields: readonly NamedField[]): string {
  const parts: string[] = []
  for (const { path, field } of fields) {
    const chosen = values.getAll(`f.${path}`)
    const isList = field.kind === 'list'
    if (chosen.length > 0) {
      const flag = itemOf(field).kind === 'flag'
      const written = chosen.map((one) => (flag ? one : quote(one))).join(', ')
      parts.push(isList ? `${path} some (@ in (${written}))` : `${path} in (${written})`)
    }
    const [from, to, has] = ['min', 'max', 'has'].map((kind) => values.get(`${kind}.${path}`))
    const bound = (text: string): string =>
      field.kind === 'instant' && text.length === 10 ? `${text}T00:00:00Z` : text
    if (from) parts.push(`${path} >= ${bound(from)}`)
    if (to) parts.push(`${path} <= ${bound(to)}`)
    if (has === 'yes') parts.push(`${path} present`)
    if (has === 'no') parts.push(`${path} absent`)
  }
  const where = values.get('where') ?? ''
  if (where.trim() !== '') parts.push(parts.length > 0 ? `(${where})` : where)
  return parts.join(' and ')
}

/** The names of the values of an address that filter. */
export const filterNames = (values: URLSearchParams): readonly string[] =>
  [...new Set(values.keys())].filter((name) => /^(?:f|min|max|has)\./.test(name))
