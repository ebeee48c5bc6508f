import type { BodySettings } from './body-settings.ts'
import type { Field, FieldLike, FieldSet, TargetsOf, UnknownKeys, ValueOf } from './field.ts'
import type { BlockValue } from './fields/block.ts'
import type { VariantsOf } from './fields/variant.ts'
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
  /** The key whose value is the id. Default: the id is the file's path or the key in a map. */
  readonly id?: string
  /** The key whose value is the slug, where an entry has it. Default: the slug is made from the id. */
  readonly slug?: string
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
  /** A sentence about the collection; it becomes a doc comment in the generated types. */
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
   * The field, written or derived, that holds the address of an entry's page. Links in bodies to the entry or its file
   * become this address. Default: none.
   */
  readonly address?: string
  /**
   * What full-text search looks at, with the weight of each: fields by their dotted paths, through groups, lists and
   * references (`legs.hut.name`), and `body`. Default: nothing, the collection cannot be searched.
   */
  readonly search?: { readonly [path: string]: number }
  /**
   * Fields by their dotted paths that have an index whatever is in them. Every single value has one anyway, but for texts
   * of which one is longer than 120 characters. Default: none more.
   */
  readonly indexes?: string | readonly string[]
  /** The order of the entries: names of fields with commas, `-` for the largest first. Default: by file. */
  readonly order?: string
  /** Numbers in front of file and folder names, as in `02-gear.md`, give the order and are no part of ids. Default: false. */
  readonly numbered?: boolean
  /** Entries come in several languages: `gable.no.md` by `suffix`, `no/gable.md` by `folder`. Default: one language. */
  readonly locales?: 'suffix' | 'folder'
  /** A date or an instant; a version in another language with an earlier one is reported. Default: none. */
  readonly revised?: keyof NoInfer<Fields> & string
  /** How CSV files are written, where it cannot be seen from their text. */
  readonly csv?: {
    /** What stands between two cells. Default: found out. */
    readonly delimiter?: string
    /** What stands around a cell with delimiters or line breaks in it. Default: `"`. */
    readonly quote?: string
    /** What stands between the items of a list in one cell. Default: `;`. */
    readonly listSeparator?: string
  }
  /** The fields of an entry. */
  readonly fields: Fields
}

/** What is computed for, and checked on, every entry of a collection. */
export interface Computation<Fields extends FieldSet, Derived> {
  /** Fields that are computed from the others; each is checked like any field. */
  readonly derive?: {
    readonly [Name in keyof Derived]: {
      readonly field: Derived[Name]
      readonly from: (entry: RuledEntry<Fields>, site: SiteView) => DerivedValue<Derived[Name]>
    }
  }
  /** Checks across fields and across entries, run on every entry that passed all others. */
  readonly rules?: readonly ((
    entry: RuledEntry<NoInfer<Fields>> & DerivedValues<NoInfer<Derived>>,
    tools: RuleTools<RuledEntry<NoInfer<Fields>> & DerivedValues<NoInfer<Derived>>>,
  ) => void)[]
}

/** The type of a derived field's value. */
type DerivedValue<Computed> = Computed extends FieldLike ? ValueOf<Computed> : never

type DerivedValues<Derived> = { readonly [Name in keyof Derived]: DerivedValue<Derived[Name]> }

/** An entry as derived fields and rules see it. */
export type RuledEntry<Fields extends FieldSet> = RuledHead & EntryData<Fields>

/** What every entry has beside its fields. */
interface RuledHead extends EntryHead {
  /** The language (BCP 47), where the collection has several. */
  readonly locale?: string
}

/** An entry of another collection, as derived fields and rules see it. */
export interface OtherEntry extends RuledHead {
  readonly [field: string]: unknown
}

/** The other entries of a site. Derived fields of theirs are computed when they are read. */
export interface SiteView {
  /** The entry of a collection with an id; undefined where there is none, or it has errors. */
  entry<Entry = OtherEntry>(collection: string, id: string): Entry | undefined
  /** All entries of a collection that have no errors. */
  entries<Entry = OtherEntry>(collection: string): readonly Entry[]
}

/** What a rule works with. */
export interface RuleTools<Entry> extends SiteView {
  /** All entries of the rule's own collection. */
  readonly all: readonly Entry[]
  /** Reports a problem of the value at a path, such as `legs.0.hut`; an empty path means the entry. */
  report(path: string, problem: RuleProblem): void
}

/** A problem that a rule finds. */
export interface RuleProblem {
  /** A code of the site's own, in kebab case, such as `booking-overlap`. */
  readonly code: string
  /** What is wrong, in one line without a full stop. */
  readonly message: string
  /** How to mend it. */
  readonly help?: string
  /** Default: `error`. */
  readonly severity?: 'error' | 'warning'
}

/** A derived field, its types aside. */
export interface DerivedField {
  readonly field: Field
  readonly from: (entry: never, site: SiteView) => unknown
}

/** A rule, its types aside. */
export type Rule = (entry: never, tools: RuleTools<never>) => void

/** The settings of a whole site. */
export interface PantrySettings<Collections, Blocks> {
  /** The folder that holds the content, relative to the configuration. Default: `content`. */
  readonly content?: string
  /** The folder that the output is written to, relative to the configuration. Default: `generated/pantry`. */
  readonly output?: string
  /**
   * The address below which the site serves the pictures and other files of the content folder. Links to them in
   * bodies become this and the path from the content folder. Default: `/`.
   */
  readonly assetBase?: string
  /** Blocks by name: groups of fields that lists can mix. Default: none. */
  readonly blocks?: Blocks
  /** The languages of the content (BCP 47), the first being the one that others fall back to. Default: none. */
  readonly locales?: readonly string[]
  /** Groups of collections whose slugs are unique together. Default: none. */
  readonly sharedSlugs?: readonly (readonly string[])[]
  /** Severities of codes that differ from the usual. Default: none. */
  readonly severities?: { readonly [code: string]: 'error' | 'warning' | 'off' }
  /**
   * Colours the code in bodies at build time, for light and dark; the colours are in `zinc-pantry/code.css`. `plain`
   * lists languages that are shown without. Default: false.
   */
  readonly highlight?: boolean | { readonly plain?: readonly string[] }
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
    { readonly [Name in keyof Blocks]: { readonly fields: Blocks[Name] } }
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
      readonly [Name in keyof Derived]: Computation<Name extends keyof Sets ? Sets[Name] : never, Derived[Name]>
    } & NoInfer<ReferenceCheck<Sets>>,
    { readonly [Name in keyof Blocks]: { readonly fields: Blocks[Name] } }
  >,
): Pantry<Sets, Derived, Blocks> {
  return { settings, [MARK]: true } as unknown as Pantry<Sets, Derived, Blocks>
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

/** The name of the field that tells shapes apart, or never. */
type VariantKey<Fields extends FieldSet> = {
  [Key in keyof Fields]: [VariantsOf<Fields[Key]>] extends [never] ? never : Key
}[keyof Fields]

type PlainData<Fields extends FieldSet> = { readonly [Key in keyof Fields]: ValueOf<Fields[Key]> }

/** The data of a set of fields: one shape, or a union where a field tells several apart. */
export type EntryData<Fields extends FieldSet> = [VariantKey<Fields>] extends [never]
  ? PlainData<Fields>
  : VariantsOf<Fields[VariantKey<Fields>]> extends infer Sets
    ? {
        [Name in keyof Sets]: Flat<
          PlainData<Omit<Fields, VariantKey<Fields>>> & {
            readonly [Key in VariantKey<Fields>]: Name
          } & (Sets[Name] extends FieldSet ? PlainData<Sets[Name]> : never)
        >
      }[keyof Sets]
    : never

/** A value with the blocks in it as their fields say. */
type WithBlocks<Value, Blocks extends BlockSets> =
  Value extends BlockValue<infer Name, infer Key>
    ? {
        [Each in Name]: Each extends keyof Blocks
          ? Flat<{ readonly [K in Key]: Each } & WithBlocks<PlainData<Blocks[Each]>, Blocks>>
          : never
      }[Name]
    : Value extends readonly (infer Item)[]
      ? readonly WithBlocks<Item, Blocks>[]
      : Value extends object
        ? { readonly [Key in keyof Value]: WithBlocks<Value[Key], Blocks> }
        : Value

type DerivedData<Derived, Name> = Name extends keyof Derived ? DerivedValues<Derived[Name]> : unknown

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
export type EntryOf<Configuration, Name extends string> =
  Configuration extends Pantry<infer Sets, infer Derived, infer Blocks>
    ? Name extends keyof Sets
      ? EntryShape<EntryData<Sets[Name]>, DerivedData<Derived, Name>, { name: Name; blocks: Blocks }>
      : never
    : never

/** Distributes over the shapes of an entry. */
type EntryShape<Data, Derived, Context extends { name: string; blocks: BlockSets }> = Data extends unknown
  ? Flat<EntryHead<Context['name']> & WithBlocks<Data, Context['blocks']> & WithBlocks<Derived, Context['blocks']>>
  : never
