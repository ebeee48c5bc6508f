import type { FileValue } from '../schema/fields/file.ts'
import type { ImageValue, SizedImageValue } from '../schema/fields/image.ts'
import type { MarkdownValue } from '../schema/fields/markdown.ts'
import type { Condition, Scalar, SortKey, SortOptions } from './condition.ts'

declare const VALUE: unique symbol
declare const MISSING: unique symbol
declare const GROUP: unique symbol

/** Says in types which value is at the end of a handle. */
export interface Holds<Value> {
  readonly [VALUE]: { readonly value: Value }
}

/** Says in types that there may be no value. */
interface Missing {
  readonly [MISSING]: true
}

/**
 * The handle of what may be missing; so may be all that is below it. It is no intersection with the handle itself: that
 * of a reference that may lead into its own collection would have no end.
 */
export type Optional<Handle> = Missing & {
  readonly [Key in keyof Handle]: Key extends OperatorsOf<Handle> | symbol ? Handle[Key] : Optional<Handle[Key]>
}

/** The handle of what is below another, which may be missing where that may be. */
type Below<This, Handle> = This extends Missing ? Optional<Handle> : Handle

/** Operators by their names, since a look at their types would have no end either. */
type OperatorsOf<Handle> =
  | keyof GroupHandle
  | (Handle extends Holds<unknown>
      ?
          | keyof TextHandle
          | keyof NumberHandle
          | keyof DateHandle
          | keyof ChoiceHandle<string>
          | keyof RefHandle<string>
          | keyof ListHandle<unknown>
          | keyof MapHandle<unknown, string, unknown, unknown>
      : never)

/** The values that are picked of every item of a list. */
export interface Each<Item, Absent = never> {
  readonly [VALUE]: { readonly value: readonly Item[] | Absent }
}

/** The values that handles stand for, in the form in which they were given. */
export type Picked<Spec> = Spec extends AnyHandle
  ? ValueOfHandle<Spec>
  : { readonly [Key in keyof Spec]: Picked<Spec[Key]> }

/** A handle that stands for a value, a single one or a group. */
type AnyHandle = Holds<unknown> | { readonly [GROUP]: { readonly value: unknown } }

/** The value that a handle stands for; null is one where there may be none. */
type ValueOfHandle<Handle> = HeldBy<Handle> | (Handle extends Missing ? null : never)

type HeldBy<Handle> =
  Handle extends Holds<infer Value>
    ? Value
    : Handle extends { readonly [GROUP]: { readonly value: infer Value } }
      ? Value
      : never

/** The single values at the end of a handle: of a list those of its items. */
export type ValuesOf<Handle> =
  Handle extends Holds<infer Value> ? Exclude<Value extends readonly (infer Item)[] ? Item : Value, null> : never

/** What can be asked of every single value, and the orders that it gives. A comparison takes a value, or another field. */
interface ValueTests<Value extends Scalar> extends SortKey {
  is(value: Value | Holds<Value>): Condition
  /** Also true where there is no value. */
  isNot(value: Value | Holds<Value>): Condition
  isOneOf(values: readonly Value[]): Condition
  /** Also true where there is no value. */
  isNoneOf(values: readonly Value[]): Condition
  /** True where the entry has a value. */
  isPresent(): Condition
  /** True where the entry has none. */
  isAbsent(): Condition
  /** For `sort`: smallest first. The default. */
  ascending(options?: SortOptions): SortKey
  /** For `sort`: largest first. */
  descending(options?: SortOptions): SortKey
}

/** What can be asked of a value with an order. False where there is no value. */
interface OrderTests<Value extends Scalar> {
  /** `>=` */
  atLeast(value: Value | Holds<Value>): Condition
  /** `<=` */
  atMost(value: Value | Holds<Value>): Condition
  /** `>` */
  above(value: Value | Holds<Value>): Condition
  /** `<` */
  below(value: Value | Holds<Value>): Condition
  /** At least the first and at most the second. */
  between(low: Value, high: Value): Condition
}

/** What can be asked of texts. */
interface TextTests {
  startsWith(text: string): Condition
  includes(text: string): Condition
  /** True where the text has all these words, whole and in any order; case and marks make no difference. */
  hasWords(words: string): Condition
  /**
   * True where a regular expression, as JavaScript has it with the flag `u`, is found in the text. It takes time in proportion to the
   * text: what looks ahead, behind or back is a `QueryError`. The engine for it is loaded with the first use.
   */
  matches(pattern: string): Condition
}

/** A single value of an entry, to build conditions with. */
export interface ValueHandle<Value extends Scalar> extends ValueTests<Value>, Holds<Value> {}

/** A value with an order. */
export interface OrderedHandle<Value extends Scalar> extends ValueHandle<Value>, OrderTests<Value> {}

/** A text. Comparison is by code unit, so that it is the same on every machine. */
export interface TextHandle extends OrderedHandle<string>, TextTests {
  /**
   * The letter that it stands under in an index by the rules of a language (BCP 47), `#` for digits; for conditions, orders, picks,
   * facets and groups. Default: the same in all languages.
   */
  initial<This>(this: This, locale?: string): Below<This, TextHandle>
  /** The text without case and marks, so that all ways to write it are found. */
  folded<This>(this: This): Below<This, TextHandle>
  /** A number that looks like chance, the same for a seed on every machine: `sort((trail) => trail.id.shuffled(7))`. */
  shuffled<This>(this: This, seed?: number | string): Below<This, NumberHandle>
}

export interface NumberHandle extends OrderedHandle<number> {
  /** The largest of some bounds that the number reaches, smallest first; no value below all. */
  band<This>(this: This, ...bounds: readonly number[]): Below<This, NumberHandle>
}

/** What is computed of days. */
interface DayParts {
  /** The year, in the zone of the field. */
  year<This>(this: This): Below<This, NumberHandle>
  /** The month as `YYYY-MM`, in the zone of the field. */
  month<This>(this: This): Below<This, TextHandle>
}

/** A calendar date, compared as `YYYY-MM-DD`. */
export interface DateHandle extends OrderedHandle<string>, DayParts {}

/** A time of day; `09:30` and `09:30:00` are the same. */
export interface TimeHandle extends OrderedHandle<string> {}

/**
 * An instant, compared in UTC, whatever zone it is written in. A date stands for the whole of that day in the field's
 * zone, or in UTC: `is` holds for every instant of it, `above` for those behind it.
 */
export interface InstantHandle extends OrderedHandle<string>, DayParts {}

/**
 * A value of which little is known, or that may be of several types. A test with a value of another type than that of the entry
 * is false, as it is where the entry has a list or a group.
 */
export interface AnythingHandle<Value = unknown>
  extends ValueTests<Scalar>,
    OrderTests<Scalar>,
    TextTests,
    Holds<Value> {}

/** The fields that entries of several collections have in common, beside those of their address. */
export type Common<Fields> = Pick<Fields, Exclude<keyof Fields, 'collection' | 'id'>>

/** The handle of what a validator of another library gives. */
export type HandleOf<Value> = [NonNullable<Value>] extends [never]
  ? AnythingHandle<Value>
  : [NonNullable<Value>] extends [string]
    ? TextHandle
    : [NonNullable<Value>] extends [number]
      ? NumberHandle
      : [NonNullable<Value>] extends [boolean]
        ? FlagHandle
        : AnythingHandle<Value>

/** A part of a declared value: a field of a group, an item of a list, the value of a key. */
export type Part<Value, Step> = Value extends Scalar
  ? never
  : Value extends readonly (infer Item)[]
    ? Step extends number
      ? Item
      : never
    : Step extends keyof Value
      ? Value[Step]
      : never

/** The single values among some; of what may be anything all. */
export type ScalarOf<Value> = unknown extends Value ? Scalar : Extract<Value, Scalar>

/** A field of Markdown. */
export interface MarkdownHandle extends GroupHandle<MarkdownValue>, Holds<MarkdownValue> {
  readonly text: TextHandle
}

/** A file. */
export interface FileHandle extends GroupHandle<FileValue>, Holds<FileValue> {
  readonly file: TextHandle
  readonly sizeBytes: NumberHandle
}

/** An image. */
export interface ImageHandle extends GroupHandle<ImageValue>, Holds<ImageValue> {
  readonly file: TextHandle
  readonly sizeBytes: NumberHandle
  readonly alt: TextHandle
  readonly kind: ValueHandle<string>
  readonly width: NumberHandle
  readonly height: NumberHandle
}

/** An image with sources, which come with it. */
export interface SizedImageHandle
  extends Omit<ImageHandle, keyof GroupHandle | keyof Holds<ImageValue>>,
    GroupHandle<SizedImageValue>,
    Holds<SizedImageValue> {}

export interface FlagHandle extends ValueHandle<boolean> {}

export interface ChoiceHandle<Choice extends string> extends ValueHandle<Choice> {
  /** The place of the value among those that are allowed, from 0; for orders. */
  ordinal<This>(this: This): Below<This, NumberHandle>
}

/** A reference; beside these it has the fields of the entry it leads to. */
export interface RefHandle<Id extends string> extends Holds<Id> {
  is(id: Id): Condition
  isNot(id: Id): Condition
  isOneOf(ids: readonly Id[]): Condition
  isNoneOf(ids: readonly Id[]): Condition
  isPresent(): Condition
  isAbsent(): Condition
}

/** A group; beside these it has its fields. */
export interface GroupHandle<Value = unknown> {
  readonly [GROUP]: { readonly value: Value }
  isPresent(): Condition
  isAbsent(): Condition
}

/** Which items of a list are picked. */
export interface EachOptions<Item> {
  /** Those for which a condition holds. Default: all. */
  readonly where?: (item: Item) => Condition
  /** Their order. Default: that of the list. */
  readonly sort?: (item: Item) => SortKey | readonly SortKey[]
  /** At most so many, from 0. Default: all. */
  readonly limit?: number
}

/** A list. */
export interface ListHandle<Item> extends Holds<readonly ValueOfHandle<Item>[]> {
  /** For `pick` and `facets`: what to take of every item; in `pick` also of some, in an order of their own. */
  each<This, Spec>(
    this: This,
    build: (item: Item) => Spec,
    options?: EachOptions<Item>,
  ): Each<Picked<Spec>, This extends Missing ? null : never>
  /** True where the condition holds for at least one item. */
  some(condition: (item: Item) => Condition): Condition
  /** True where it holds for all items, and where there are none. */
  every(condition: (item: Item) => Condition): Condition
  /** True where it holds for no item. */
  none(condition: (item: Item) => Condition): Condition
  /** True where there are items. */
  isPresent(): Condition
  /** True where there are none, or there is no list. */
  isAbsent(): Condition
  /** The number of items, for conditions, orders and picks. */
  count<This>(this: This): Below<This, NumberHandle>
  /** The sum of a number of the items, or of items that are numbers; 0 of none. */
  sum<This>(this: This, of?: (item: Item) => Holds<number>): Below<This, NumberHandle>
  /** Their mean; no value where there are none. */
  mean<This>(this: This, of?: (item: Item) => Holds<number>): Optional<NumberHandle>
  minimum<This>(this: This, of?: (item: Item) => Holds<number>): Optional<NumberHandle>
  maximum<This>(this: This, of?: (item: Item) => Holds<number>): Optional<NumberHandle>
}

/** A map: values under keys that writers choose. `Key` are the keys, as far as they are known. */
export interface MapHandle<Item, Key, Keys, Value> extends Holds<Value> {
  /** The handle of the value of a key. */
  at(key: Key): Optional<Item>
  /** The keys, as a list. */
  keys<This>(this: This): Below<This, Keys>
  /** The number of keys. */
  count<This>(this: This): Below<This, NumberHandle>
  isPresent(): Condition
  isAbsent(): Condition
}

/** A list of single values. */
export interface HasValues<Value extends Scalar> {
  /** True where one of the items is the value. */
  includes(value: Value): Condition
}
