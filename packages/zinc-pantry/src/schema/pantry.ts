import type { FormatName } from '../values/format-names.ts'
import type { BodySettings } from './body-settings.ts'
import type { Computation } from './computation.ts'
import type { EntryData } from './entry-types.ts'
import type { FieldSet, TargetsOf } from './field.ts'
import type { UnknownKeys } from './kind.ts'
import type { RemoteSource, SourceFunction } from './remote.ts'

/** How one collection is read and what its entries hold. */
export interface CollectionSettings<Fields extends FieldSet> {
  /** Glob patterns of the files to read, relative to the content folder. Required where there is no `from`. */
  readonly files?: string | readonly string[]
  /** Where the entries come from instead of files: an address, or a function of the site. */
  readonly from?: RemoteSource | SourceFunction
  /** Glob patterns of files to leave out, relative to the content folder. Default: none. */
  readonly exclude?: string | readonly string[]
  /**
   * Whether a file holds one entry or many. Many are a list, or a map whose keys are the ids. Default:
   * `many` for data files that `files` names in full, `one` for those it finds by a pattern.
   */
  readonly perFile?: 'one' | 'many'
  /** A JSON Pointer (RFC 6901) to the list or map of entries in a file. It implies `perFile: 'many'`. */
  readonly records?: string
  /**
   * The key whose value is the id, or several, whose values are joined by hyphens. `false` for items of lists that nothing
   * names: their position does, from 1, so that an item put in front gives all behind it other ids. Default: the id is the
   * file's path, the key in a map, or the key `id` of an item of a list.
   */
  readonly id?: string | readonly string[] | false
  /**
   * Where slugs come from: the key whose value gives it, such as a title, written in lower case, in ASCII and with hyphens; or
   * a function of the written fields, which gives it as it is. `false` for entries that need no address: their slug is the
   * id as it is. Default: the slug is made from the id.
   */
  readonly slug?: string | false | ((entry: EntryData<NoInfer<Fields>>) => string)
  /** The field that a record fills which is a single value and no group, as in a list or a map of texts. Default: none. */
  readonly value?: keyof NoInfer<Fields> & string
  /** The name of the generated type of an entry. Default: the collection's name and `Entry`. */
  readonly entry?: string
  /** Keep the text below the front matter: true, or how it is read. Default: false. */
  readonly body?: boolean | BodySettings
  /**
   * Whether writers may run code and use raw HTML. Where not, MDX and raw HTML are refused, and all output is freed of
   * what can run code; no content and no other setting can change that. Default: true.
   */
  readonly trusted?: boolean
  /** Whether keys that no field declares are problems, or are left out in silence. Default: `refuse`. */
  readonly unknownKeys?: UnknownKeys
  /** The heading for people that the collection stands under. Default: none. */
  readonly section?: string
  /** A sentence about the collection, for writers; it is a doc comment in the generated types too. */
  readonly description?: string
  /** The collection has exactly one entry, such as a front page. Default: false. */
  readonly single?: boolean
  /** Combinations of fields of which no two entries may have the same values. Default: none. */
  readonly unique?: readonly (readonly (keyof NoInfer<Fields> & string)[])[]
  /** The fields that say whether an entry is to be seen. Default: every entry is. */
  readonly publication?: {
    /** A flag: true while the entry is not ready. */
    readonly draft?: keyof NoInfer<Fields> & string
    /** A date or an instant from which the entry is seen. */
    readonly from?: keyof NoInfer<Fields> & string
    /** A date or an instant until which the entry is seen, that day included. */
    readonly until?: keyof NoInfer<Fields> & string
  }
  /** The reference to the entry above, where the collection is a tree; circles are refused. Default: none. */
  readonly parent?: keyof NoInfer<Fields> & string
  /**
   * Lets writers refer to entries that are not there yet, such as new tags: each is made, with the text in this
   * field. All other fields must do without a value. Default: such a reference is a problem.
   */
  readonly createFrom?: keyof NoInfer<Fields> & string
  /**
   * The address of an entry's page, to which links in bodies to the entry or its file lead: the name of a field, written or
   * derived, or a template (RFC 6570) over `id`, `slug`, `locale` and the entry's own fields, such as `/huts/{slug}/`, which
   * gives entries the derived field `address`. A page named `index` is that of its folder, and those in other languages than
   * the first begin with the language, unless the template says where it stands. Default: the entries have no pages.
   */
  readonly address?: string
  /** The field with the list of addresses that the page had before, for redirects. Default: none. */
  readonly formerAddresses?: keyof NoInfer<Fields> & string
  /**
   * The paths that full-text search looks at, with the weight of each: fields by their dotted paths, through groups, lists and
   * references (`legs.hut.name`), and `body`. Default: nothing, the collection cannot be searched.
   */
  readonly search?: { readonly [path: string]: number }
  /**
   * Fields by their dotted paths that have an index whatever is in them. Every single value has one anyway, but for texts
   * of which one is longer than 120 characters. Also orders that are kept ready for `sort`: by the rules of a language
   * (`{ field: 'title', collation: 'nb' }`), or by a field behind a reference (`'region.name'`); a build tells how large
   * these are. `{ field: 'title', trigrams: true }` also has all three letters in a row, so that `includes` need not read the
   * texts of a large collection. Default: none more.
   */
  readonly indexes?:
    | string
    | readonly (string | { readonly field: string; readonly collation?: string; readonly trigrams?: boolean })[]
  /**
   * Orders in which rows are stored once more (clustered indexes), so that a page that `sort` puts in one of them costs a
   * browser two or three requests, whatever the size of the collection: paths of fields with commas, `-` for the largest
   * first, such as `'-opened'` or `'region.name,-ascent'`; also by the rules of a language (`{ order: 'title', collation:
   * 'nb' }`). Each makes the output larger by as much as all rows. Default: none.
   */
  readonly clustered?: string | readonly (string | { readonly order: string; readonly collation?: string })[]
  /**
   * Keeps what leads to each entry, with the text around it, for `backlinks(id)`: links in bodies and in fields of Markdown, and
   * references. Default: false.
   */
  readonly backlinks?: boolean
  /** The order of the entries: names of fields with commas, `-` for the largest first. Default: by file. */
  readonly order?: string
  /**
   * Numbers in front of file and folder names, as in `02-gear.md`, give the order and are no part of ids. Default:
   * false.
   */
  readonly numbered?: boolean
  /** Entries come in several languages: `gable.no.md` by `suffix`, `no/gable.md` by `folder`. Default: one language. */
  readonly locales?: 'suffix' | 'folder'
  /** A date or an instant; a version in another language with an earlier one is reported. Default: none. */
  readonly revised?: keyof NoInfer<Fields> & string
  /**
   * How cells are read. Those of tables always are; where this is set, `true` for all as usual, texts in files of other
   * formats are read as cells too: `"24"` is a number, `"TRUE"` a flag, `"a; b"` a list, and `""` no value, as the fields
   * say. Default: texts of other formats are texts.
   */
  readonly cells?:
    | true
    | {
        /** The delimiter of cells in tables. Default: found out. */
        readonly delimiter?: string
        /** The quote around a cell with delimiters or line breaks in it. Default: `"`. */
        readonly quote?: string
        /** The separator of the items of a list in one cell. Default: `;`. */
        readonly listSeparator?: string
        /** Whether spaces around cells and headings are left out. Default: true. */
        readonly trim?: boolean
      }
  /** The fields of an entry. */
  readonly fields: Fields
}

/** The settings of a block. */
export interface BlockSettings<Fields extends FieldSet> {
  /** Its properties. Default: it takes whatever it is given. */
  readonly fields?: Fields
  /**
   * What becomes of properties that are no fields of it: `refuse` or `keep`, as they are written. Default: `refuse`, and `keep`
   * where no fields are declared.
   */
  readonly unknownKeys?: 'refuse' | 'keep'
}

/** The settings of a whole site. */
export interface PantrySettings<Collections, Blocks> {
  /** The folder that holds the content, relative to the configuration. Default: `content`. */
  readonly content?: string
  /**
   * The formats of files whose ending does not say it: `{ '.txt': 'markdown', '.Rmd': 'markdown' }`. Default: the usual
   * endings of each format.
   */
  readonly endings?: { readonly [ending: string]: FormatName }
  /** The folder that the output is written to, relative to the configuration. Default: `generated/pantry`. */
  readonly output?: string
  /**
   * The address below which the site serves the pictures and other files of the content folder. Links to them in
   * bodies become this and the path from the content folder. Default: `/`.
   */
  readonly assetBase?: string
  /**
   * The folder whose files the site serves as they are, relative to the configuration: links in bodies may lead to them.
   * Default: `public`.
   */
  readonly publicFolder?: string
  /**
   * Patterns of addresses that something else serves, such as `/api/**`: links in bodies to these are not looked at.
   * Default: none.
   */
  readonly served?: string | readonly string[]
  /** Blocks by name: groups of fields that lists can mix, and that bodies use as components. Default: none. */
  readonly blocks?: Blocks
  /**
   * The fields of `hints` that fields may have, each optional or with a default: `{ width: choice(['half', 'full'], { default:
   * 'full' }) }`. Default: fields may have any hints.
   */
  readonly hints?: FieldSet
  /**
   * The languages of the content (BCP 47), the first being the one that others fall back to; searches bring words to their stems
   * by them, or else as English. Default: none.
   */
  readonly locales?: readonly string[]
  /** Groups of collections whose slugs are unique together. Default: none. */
  readonly sharedSlugs?: readonly (readonly string[])[]
  /**
   * Groups of words that stand for each other in full-text searches, such as `['hut', 'cabin', 'mountain shelter']`. Default:
   * none.
   */
  readonly synonyms?: readonly (readonly string[])[]
  /** Severities of codes that differ from the usual. Default: none. */
  readonly severities?: { readonly [code: string]: 'error' | 'warning' | 'off' }
  /**
   * Colours the code in bodies at build time, for light and dark; the colours are in `zinc-pantry/code.css`. `plain`
   * lists languages that are shown without. Default: false.
   */
  readonly highlight?: boolean | { readonly plain?: readonly string[] }
  /**
   * Also writes `standalone.js` into the output, which holds or loads the query runtime with it: a page imports it by one script
   * tag, without a bundler and an import map. Default: false.
   */
  readonly standalone?: boolean
  readonly collections: Collections
}

/** The collections of a site by name. */
export type FieldSets = { readonly [collection: string]: FieldSet }

/** The blocks of a site by name. */
export type BlockSets = { readonly [block: string]: FieldSet }

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
export interface Pantry<Sets extends FieldSets = FieldSets, Derived = unknown, Blocks extends BlockSets = BlockSets> {
  readonly settings: PantrySettings<
    { readonly [Name in keyof Sets]: CollectionSettings<Sets[Name]> } & {
      readonly [Name in keyof Derived]: {
        readonly derive?: { readonly [Key in keyof Derived[Name]]: { readonly field: Derived[Name][Key] } }
      }
    },
    { readonly [Name in keyof Blocks]: BlockSettings<Blocks[Name]> }
  >
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
 *     huts: {
 *       files: 'huts/*.yaml',
 *       entry: 'Hut',
 *       fields: { name: text(), beds: int(), region: ref('regions') },
 *       derive: { label: { field: text(), from: (hut) => `${hut.name} (${hut.beds})` } },
 *     },
 *   },
 * })
 * ```
 */
export function pantry<
  const Sets extends FieldSets,
  // With a constraint it would be inferred as the constraint itself.
  const Derived,
  const Blocks extends BlockSets = Record<never, never>,
>(
  settings: PantrySettings<
    { readonly [Name in keyof Sets]: CollectionSettings<Sets[Name]> } & {
      readonly [Name in keyof Derived]: Computation<
        Name extends keyof Sets ? Sets[Name] : never,
        Derived[Name],
        NoInfer<Sets>,
        NoInfer<Derived>
      >
    } & NoInfer<ReferenceCheck<Sets>>,
    { readonly [Name in keyof Blocks]: BlockSettings<Blocks[Name]> }
  >,
): Pantry<Sets, Derived, Blocks> {
  return { settings, [MARK]: true } as unknown as Pantry<Sets, Derived, Blocks>
}

/** True for what {@link pantry} gave. */
export const isPantry = (value: unknown): value is Pantry =>
  typeof value === 'object' && value !== null && MARK in value
