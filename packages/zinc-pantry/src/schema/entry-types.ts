import type { DerivedValues } from './computation.ts'
import type { FieldSet, ValueOf } from './field.ts'
import type { BlockValue } from './fields/block.ts'
import type { VariantsOf } from './fields/variant.ts'
import type { BlockSets, FieldSets, Pantry } from './pantry.ts'

/** The file an entry was read from. */
export interface EntrySource {
  /** Relative to the content folder, with forward slashes. */
  readonly file: string
  /** The JSON Pointer (RFC 6901) of the entry in a file of many; empty where the file is the entry. */
  readonly pointer: string
  /** There and true where no file holds the entry: the reference at this place was the first to make it. */
  readonly implicit?: true
}

/** The data that the engine itself keeps on every entry. */
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

/**
 * The type of the properties of a block, inferred from the configuration.
 *
 * @example
 * ```ts
 * import { type BlockOf, int, pantry } from 'zinc-pantry'
 *
 * const site = pantry({ blocks: { map: { fields: { zoom: int() } } }, collections: {} })
 * const describe = (map: BlockOf<typeof site, 'map'>): string => `at ${map.zoom}`
 * ```
 */
export type BlockOf<Configuration, Name extends string> =
  Configuration extends Pantry<FieldSets, infer _Derived, infer Blocks>
    ? Name extends keyof Blocks
      ? EntryData<Blocks[Name]>
      : never
    : never

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
