import type { FormatName } from '../values/format-names.ts'
import { KEYS_STEP } from '../values/steps.ts'
import type { AnyField } from './any-field.ts'
import type { BodyDemands, BodyModel } from './body-settings.ts'
import type { DerivedField, Rule } from './computation.ts'
import type { Fields } from './field.ts'
import type { BlockFields, UnknownKeys } from './kind.ts'
import { childrenOf } from './kinds.ts'
import type { IdRule, SlugRule } from './naming-rule.ts'
import type { RemoteSource, SourceFunction } from './remote.ts'

/** A collection with all its settings filled in. */
export interface CollectionModel {
  readonly name: string
  /** The name of the generated type of an entry. */
  readonly typeName: string
  readonly description: string | undefined
  /** The heading for people that it stands under. */
  readonly section: string | undefined
  readonly files: readonly string[]
  /** Where the entries come from instead of files. */
  readonly source: RemoteSource | SourceFunction | undefined
  readonly exclude: readonly string[]
  /** Undefined where each file decides by how it was named. */
  readonly perFile: 'one' | 'many' | undefined
  readonly records: string | undefined
  readonly id: IdRule
  readonly slug: SlugRule
  /** The field of a record that is a single value, not a group. */
  readonly value: string | undefined
  /** How bodies are read; undefined where there are none. */
  readonly body: BodyModel | undefined
  /** Whether writers may run code and use raw HTML. */
  readonly trusted: boolean
  /** Dotted paths of fields that have an index whatever is in them. */
  readonly indexes: readonly string[]
  /** Dotted paths of fields with an index of all three letters in a row. */
  readonly trigrams: readonly string[]
  /** Orders that are kept ready: by the rules of a language, or by a field behind a reference. */
  readonly sortOrders: readonly SortOrder[]
  /** Orders in which rows are stored once more. */
  readonly clustered: readonly (readonly ClusterKey[])[]
  /** The paths that full-text search looks at, with their weights. */
  readonly search: readonly SearchedPath[]
  /** The field that holds the address of an entry's page. */
  readonly address: string | undefined
  /** The fields that a template of addresses names. */
  readonly addressVariables: readonly string[]
  /** The field that lists the addresses that an entry's page had before. */
  readonly formerAddresses: string | undefined
  readonly unknownKeys: UnknownKeys
  /** The fields that writers write, and those that are read backwards. */
  readonly fields: Fields
  /** The derived fields by name. */
  readonly derived: { readonly [name: string]: DerivedField }
  readonly rules: readonly Rule[]
  /** True where the collection has exactly one entry. */
  readonly single: boolean
  /** Combinations of fields of which no two entries have the same values. */
  readonly unique: readonly (readonly string[])[]
  readonly publication: Publication | undefined
  /** The reference to the entry above, where the collection is a tree. */
  readonly parent: string | undefined
  /** The field that gets the text of a reference to an entry that is not there yet, which is then made. */
  readonly createFrom: string | undefined
  /** True where what leads to each entry is kept. */
  readonly backlinks: boolean
  readonly order: readonly OrderKey[]
  /** True where numbers in front of file names give the order. */
  readonly numbered: boolean
  readonly locales: 'suffix' | 'folder' | undefined
  /** The date or instant that says how old a version in one language is. */
  readonly revised: string | undefined
  readonly cells: CellSettings
}

/** What the check of its files reads of a collection: what else is set leaves their results as they are. */
export type FileSettings = Pick<
  CollectionModel,
  | 'name'
  | 'files'
  | 'perFile'
  | 'records'
  | 'id'
  | 'slug'
  | 'value'
  | 'body'
  | 'trusted'
  | 'unknownKeys'
  | 'fields'
  | 'derived'
  | 'locales'
  | 'numbered'
  | 'cells'
>

/** An order that is kept ready for queries. */
export interface SortOrder {
  readonly path: readonly string[]
  readonly collation: string | undefined
}

/** One key of an order in which rows are stored once more. */
export interface ClusterKey extends SortOrder {
  readonly direction: 'ascending' | 'descending'
}

/** One key of a default order. */
export interface OrderKey {
  readonly field: string
  readonly direction: 'ascending' | 'descending'
}

/** The fields that say whether an entry is to be seen. */
export interface Publication {
  /** A flag: true while it is not ready. */
  readonly draft: string | undefined
  /** A date or an instant from which it is seen. */
  readonly from: string | undefined
  /** A date or an instant until which it is seen, that day included. */
  readonly until: string | undefined
}

/** How cells are read. */
export interface CellSettings {
  /** True where texts in files that are no tables are cells too. */
  readonly everywhere: boolean
  readonly delimiter: string | undefined
  readonly quote: string | undefined
  /** The separator of the items of a list in one cell. */
  readonly listSeparator: string
  /** True where spaces around cells and headings are left out. */
  readonly trim: boolean
}

/** A site's configuration, normalised: what every later stage reads. */
export interface Model {
  readonly content: string
  /** Formats by the endings of files with their dots, as written and in lower case, where these are not the usual ones. */
  readonly endings: ReadonlyMap<string, FormatName>
  readonly output: string
  /** In the order of the configuration. */
  readonly collections: readonly CollectionModel[]
  readonly blocks: BlockFields
  /** The fields of the hints of fields; without any they may be anything. */
  readonly hints: Fields
  /** Groups of collections in which slugs are unique together. */
  readonly sharedSlugs: readonly (readonly string[])[]
  readonly locales: readonly string[]
  /** Groups of words that stand for each other in searches. */
  readonly synonyms: readonly (readonly string[])[]
  /** True where pages load the output without a bundler. */
  readonly standalone: boolean
  readonly severities: Severities
  /** The prefix of the paths of pictures and other files in bodies. */
  readonly assetBase: string
  /** The folder whose files are served as they are, relative to the configuration. */
  readonly publicFolder: string
  /** Patterns of addresses that something else serves. */
  readonly served: readonly string[]
  /** Languages that are shown without colours; undefined where no code has colours. */
  readonly plainLanguages: readonly string[] | undefined
  /**
   * The same object for models that differ in nothing but what fields take or refuse, what is said of them to people, and functions
   * that compute: what is made of checked entries, and calls none of these, hangs on it.
   */
  readonly outline: object
}

/** Severities that differ from those of the catalogue. */
export type Severities = ReadonlyMap<string, 'error' | 'warning' | 'off'>

/** True where a site has made a warning of a problem that is an error by itself, or leaves it out. */
export const isLenient = (severities: Severities, code: string): boolean =>
  (severities.get(code) ?? 'error') !== 'error'

const DANGLING_CODES = ['ref-dangling', 'ref-ambiguous', 'ref-unpublished']

/** True where a site lives with references that lead nowhere, or to what is not to be seen: such have no value. */
export const mayDangle = ({ severities }: Pick<Model, 'severities'>): boolean =>
  DANGLING_CODES.some((code) => isLenient(severities, code))

/** What a site asks of bodies. */
export const bodyDemandsOf = ({ collections, plainLanguages }: Model): BodyDemands => ({
  hasColours: plainLanguages !== undefined,
  hasExcerpts: collections.some(({ backlinks }) => backlinks),
})

/** Names an entry has from the engine, which no field may take. */
export const HEAD_NAMES: readonly string[] = ['id', 'slug', 'collection', 'locale', 'source', 'body']

/** All fields of an entry, written and computed. */
export const allFields = ({ fields, derived }: CollectionModel): Fields => ({
  ...fields,
  ...Object.fromEntries(Object.entries(derived).map(([name, { field }]) => [name, field])),
})

/** Calls a function for a field and every field in it, with its path below the collection's fields. */
export function visitFields(
  fields: Fields,
  visit: (field: AnyField, path: readonly string[]) => void,
  path: readonly string[] = [],
): void {
  for (const [name, field] of Object.entries(fields)) visitField(field, visit, [...path, name])
}

function visitField(
  field: AnyField,
  visit: (field: AnyField, path: readonly string[]) => void,
  path: readonly string[],
): void {
  visit(field, path)
  const { item, keys, fields, variants = {}, alternatives = [] } = childrenOf(field)
  if (item?.options) visitField(item, visit, [...path, 'item'])
  if (keys?.options) visitField(keys, visit, [...path, KEYS_STEP])
  for (const one of alternatives) visitField(one, visit, path)
  if (fields) visitFields(fields, visit, path)
  for (const [name, own] of Object.entries(variants)) visitFields(own, visit, [...path, name])
}

/** A path that is searched; `body` for the body. */
export interface SearchedPath {
  readonly path: readonly string[]
  readonly weight: number
}
