import type { FieldSet, TargetsOf, UnknownKeys, ValueOf } from './field.ts'

/** How one collection is read and what its entries hold. */
export interface CollectionSettings<Fields extends FieldSet> {
  /** Glob patterns of the files to read, relative to the content folder. */
  readonly files: string | readonly string[]
  /** Glob patterns of files to leave out, relative to the content folder. Default: none. */
  readonly exclude?: string | readonly string[]
  /**
   * Whether a file holds one entry or many. Many are a list, or a map whose keys are the ids. Default:
   * `many` for YAML and JSON files that `files` names in full, `one` for those it finds by a pattern.
   */
  readonly perFile?: 'one' | 'many'
  /** A JSON Pointer (RFC 6901) to the list or map of entries in a file. It implies `perFile: 'many'`. */
  readonly records?: string
  /** The key whose value is the id. Default: the id is the file's path or the key in a map. */
  readonly id?: string
  /** The key whose value is the slug, where an entry has it. Default: the slug is made from the id. */
  readonly slug?: string
  /** The name of the generated type of an entry. Default: the collection's name and `Entry`. */
  readonly entry?: string
  /** Keep the text below the front matter. Default: false. */
  readonly body?: boolean
  /** Whether keys that no field declares are problems, or are left out in silence. Default: `refuse`. */
  readonly unknownKeys?: UnknownKeys
  /** A sentence about the collection; it becomes a doc comment in the generated types. */
  readonly description?: string
  /** The fields of an entry. */
  readonly fields: Fields
}

/** The settings of a whole site. */
export interface PantrySettings<Sets> {
  /** The folder that holds the content, relative to the configuration. Default: `content`. */
  readonly content?: string
  /** The folder that the output is written to, relative to the configuration. Default: `generated/pantry`. */
  readonly output?: string
  readonly collections: Sets
}

/** The collections of a site by name. */
export type FieldSets = { readonly [collection: string]: FieldSet }

/** A sentence where a field refers to what is no collection. The field itself is marked. */
type ReferenceCheck<Sets extends FieldSets> = {
  readonly [Name in keyof Sets]: {
    readonly fields: {
      readonly [Key in keyof Sets[Name]]: Exclude<TargetsOf<Sets[Name][Key]>, keyof Sets> extends infer Wrong
        ? [Wrong] extends [never]
          ? unknown
          : `There is no collection named ${Wrong & string}`
        : never
    }
  }
}

/** A checked configuration, as the default export of `pantry.config.ts`. */
export interface Pantry<Sets extends FieldSets = FieldSets> {
  readonly settings: PantrySettings<{ readonly [Name in keyof Sets]: CollectionSettings<Sets[Name]> }>
}

/** Marks a configuration, also across two copies of this package. */
const MARK = Symbol.for('zinc-pantry.configuration')

/**
 * Declares a site's collections. Types are inferred from the fields; a reference to what is no
 * collection is a type error. The settings themselves are checked when the site is compiled, where a
 * wrong one gets a diagnostic with the code `config-…` that names it.
 *
 * @example
 * ```ts
 * import { int, pantry, ref, text } from 'zinc-pantry'
 *
 * export default pantry({
 *   collections: {
 *     regions: { files: 'regions.yaml', entry: 'Region', fields: { name: text() } },
 *     huts: { files: 'huts/*.yaml', entry: 'Hut', fields: { name: text(), beds: int(), region: ref('regions') } },
 *   },
 * })
 * ```
 */
export function pantry<const Sets extends FieldSets>(
  settings: PantrySettings<
    { readonly [Name in keyof Sets]: CollectionSettings<Sets[Name]> } & NoInfer<ReferenceCheck<Sets>>
  >,
): Pantry<Sets> {
  return { settings, [MARK]: true } as unknown as Pantry<Sets>
}

/** True for what {@link pantry} gave. */
export const isPantry = (value: unknown): value is Pantry =>
  typeof value === 'object' && value !== null && MARK in value

/** The file an entry was read from. */
export interface EntrySource {
  /** Relative to the content folder, with forward slashes. */
  readonly file: string
  /** The JSON Pointer (RFC 6901) of the entry in a file of many; empty where the file is the entry. */
  readonly pointer: string
}

/** What the engine itself keeps on every entry. */
export interface EntryHead<Collection extends string = string> {
  readonly id: string
  readonly slug: string
  readonly collection: Collection
  readonly source: EntrySource
}

type Flat<T> = { readonly [Key in keyof T]: T[Key] }

/**
 * The type of an entry of one collection, inferred from the configuration.
 *
 * @example
 * ```ts
 * import { type EntryOf, int, pantry, text } from 'zinc-pantry'
 *
 * const site = pantry({ collections: { huts: { files: 'huts/*.yaml', fields: { name: text(), beds: int() } } } })
 * type Hut = EntryOf<typeof site, 'huts'>
 * const sleeps = (hut: Hut): string => `${hut.name} sleeps ${hut.beds}`
 * ```
 */
export type EntryOf<Configuration extends Pantry, Name extends string> =
  Configuration extends Pantry<infer Sets>
    ? Name extends keyof Sets
      ? Flat<EntryHead<Name> & { [Key in keyof Sets[Name]]: ValueOf<Sets[Name][Key]> }>
      : never
    : never
