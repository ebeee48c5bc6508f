import { isGroup } from '../diagnostics/own-key.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { isCollation } from '../values/collation.ts'
import { ofMany } from '../values/steps.ts'
import { shapeOf } from './compile-schema.ts'
import { visibleFields } from './fields/variant.ts'
import {
  allFields,
  type ClusterKey,
  type CollectionModel,
  type Model,
  type SearchedPath,
  type SortOrder,
} from './model.ts'
import { orderedFields } from './ordered-fields.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'
import type { Shape } from './shape.ts'

/** Stands for the body among the paths that are searched. */
const BODY_PATH = 'body'

/** Reads how much the fields of a collection, and its body, weigh in a search. */
export function buildSearch(reader: SettingsReader, path: SettingStep[], value: unknown): readonly SearchedPath[] {
  if (value === undefined) return []
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    reader.invalid(path, value, 'an object with a weight for each field')
    return []
  }
  return Object.entries(value).flatMap(([name, weight]) => {
    if (typeof weight === 'number' && weight > 0 && weight <= 100) return [{ path: name.split('.'), weight }]
    reader.invalid([...path, name], weight, 'a weight above 0, at most 100')
    return []
  })
}

/** Reads the paths of fields that have an index whatever is in them, and the orders that are kept. */
export function buildIndexes(
  reader: SettingsReader,
  path: SettingStep[],
  value: unknown,
): Pick<CollectionModel, 'indexes' | 'sortOrders' | 'trigrams'> {
  const indexes: string[] = []
  const trigrams: string[] = []
  const sortOrders: SortOrder[] = []
  for (const { name, collation, hasTrigrams } of readOrders(reader, path, value, 'field')) {
    if (collation === undefined) indexes.push(name)
    else sortOrders.push({ path: name.split('.'), collation })
    if (hasTrigrams) trigrams.push(name)
  }
  return { indexes, sortOrders, trigrams }
}

/** Reads the orders in which rows are stored once more. */
export function buildClusters(
  reader: SettingsReader,
  path: SettingStep[],
  value: unknown,
): readonly (readonly ClusterKey[])[] {
  const clusters = readOrders(reader, path, value, 'order').map(({ name, collation }) =>
    orderedFields(name).map(({ field, direction }): ClusterKey => ({ path: field.split('.'), direction, collation })),
  )
  return clusters.filter((keys) => keys.length > 0)
}

/** Reads texts, or objects with a text and a language by whose rules texts are ordered. */
function readOrders(
  reader: SettingsReader,
  path: SettingStep[],
  value: unknown,
  key: 'field' | 'order',
): { readonly name: string; readonly collation: string | undefined; readonly hasTrigrams: boolean }[] {
  const all = Array.isArray(value) ? value : value === undefined ? [] : [value]
  return all.flatMap((one, position) => {
    const at = Array.isArray(value) ? [...path, position] : path
    if (!isGroup(one)) {
      const name = reader.text(at, one)
      return name === undefined ? [] : [{ name, collation: undefined, hasTrigrams: false }]
    }
    reader.known(at, one, [key, 'collation', ...(key === 'field' ? ['trigrams'] : [])])
    const hasTrigrams = key === 'field' && reader.flag([...at, 'trigrams'], one.trigrams) === true
    const name = reader.text([...at, key], one[key])
    const collation = reader.text([...at, 'collation'], one.collation)
    const isFit = collation === undefined || isCollation(collation)
    if (name === undefined) reader.invalid([...at, key], one[key], 'the path of a field')
    if (!isFit) reader.invalid([...at, 'collation'], collation, 'a language with rules of order, such as nb')
    return name === undefined || !isFit ? [] : [{ name, collation, hasTrigrams }]
  })
}

/**
 * Checks that what is searched and what is indexed is there: texts of the entries, of what they refer to, and bodies;
 * single values of the entries themselves.
 */
export function checkSearch(reader: SettingsReader, model: Model): void {
  const collections = new Map(model.collections.map((collection) => [collection.name, collection]))
  const fieldsOf = (collection: CollectionModel | undefined): Readonly<Record<string, Shape>> =>
    // What is private cannot be searched for either.
    Object.fromEntries(
      Object.entries(visibleFields(collection ? allFields(collection) : {})).map(([name, field]) => [
        name,
        shapeOf(field, model.blocks),
      ]),
    )
  const check = (
    collection: CollectionModel,
    setting: 'search' | 'indexes' | 'clustered',
    path: readonly string[],
  ): void => {
    const name = path.join('.')
    const isSearch = setting === 'search'
    const expected = isSearch ? 'a text' : 'a single value'
    const report = (known: readonly string[], suggestion?: string): void =>
      reader.report('config-field-unfit', ['collections', collection.name, setting, ...(isSearch ? [name] : [])], {
        name,
        expected,
        suggestion,
        known,
      })
    let fields: Readonly<Record<string, Shape>> | undefined = fieldsOf(collection)
    let end: Shape | undefined
    for (const step of path) {
      const known: string[] = Object.keys(fields ?? {})
      const many: Shape | undefined = end && (ofMany(end, step) as Shape | undefined)
      end = many ?? (known.includes(step) ? fields?.[step] : undefined)
      // An order needs one value an entry.
      const isOrder =
        setting === 'clustered' || (!isSearch && collection.sortOrders.some(({ path: own }) => own.join('.') === name))
      while (end?.kind === 'list' && !isOrder) end = end.item
      if (!end) {
        report(known, suggestNearest(step, known))
        return
      }
      fields = end.kind === 'ref' ? fieldsOf(collections.get(end.target)) : end.fields
    }
    const fits = isSearch
      ? end?.kind === 'text' || end?.kind === 'plain'
      : !/^(?:group|anything|list|map)$/.test(end?.kind ?? '')
    if (!fits) report(Object.keys(fields ?? {}))
  }
  for (const collection of model.collections) {
    for (const { path } of collection.search)
      if (path.join('.') !== BODY_PATH || !collection.body) check(collection, 'search', path)
    for (const path of collection.indexes) check(collection, 'indexes', path.split('.'))
    for (const { path } of collection.sortOrders) check(collection, 'indexes', path)
    for (const { path } of collection.clustered.flat()) check(collection, 'clustered', path)
  }
}
