import type { AnyField } from './any-field.ts'
import type { StandardValidator } from './standard-validator.ts'

declare const VALUE: unique symbol
declare const TARGET: unique symbol

/** Options that every field takes. */
export interface CommonOptions {
  /** The entry may lack the field; its value is then `null`. Default: false, the field is required. */
  readonly optional?: boolean
  /** The name that people see. Default: none. */
  readonly label?: string
  /** A sentence of help for writers; it becomes the doc comment in the generated types. */
  readonly description?: string
  /** Sample values, as in JSON Schema. */
  readonly examples?: readonly unknown[]
  /** Marks a field that new content should not use, as in JSON Schema; a use is a warning. Default: false. */
  readonly deprecated?: boolean
  /** Keeps the value out of every output; rules and derived fields see it. Default: false. */
  readonly private?: boolean
  /** No two entries of the collection may have the same value. Default: false. */
  readonly unique?: boolean
  /** The key that the value is written under, where that is no name, or is taken: `Height (m)`. Default: the field's name. */
  readonly writtenAs?: string
  /** The heading for people that the field stands under, in forms and documents; the data is not nested by it. Default: none. */
  readonly section?: string
  /**
   * What editors and pages want to know of the field, such as how to show it; checked by the fields that the site declares in
   * its own `hints`, whose defaults fill what is left out. Default: none.
   */
  readonly hints?: Readonly<Record<string, unknown>>
}

/**
 * A field as a configuration declares it: plain data. `Value` is the type its value has in an entry,
 * `Target` the names of the collections it refers to. Every kind has an interface of its own beside its constructor;
 * {@link AnyField} is the union of them all.
 */
export interface Field<Value = unknown, Target extends string = string> {
  readonly kind: string
  readonly options: FieldOptions
  /** The field that this one was adapted from. */
  readonly base?: Field
  /** Exists in types only. Boxed, since an optional property alone can lose `never` to `undefined`. */
  readonly [VALUE]?: { readonly value: Value }
  /** Exists in types only. */
  readonly [TARGET]?: { readonly target: Target }
}

/** The options that all fields have in common. */
export type FieldOptions = CommonOptions & { readonly default?: unknown }

/** A field, or a validator of another library in its place. */
export type FieldLike = Field | StandardValidator

/** Named fields: of a collection, or of a group. Plain data, to be shared and spread. */
export type FieldSet = { readonly [name: string]: FieldLike }

/** Named fields, validators of other libraries wrapped. */
export type Fields = { readonly [name: string]: AnyField }

/** The type of a field's value in an entry. */
export type ValueOf<F extends FieldLike> =
  F extends Field<infer Value, string> ? Value : F extends StandardValidator<infer Output> ? Plain<Output> : never

/** A value as JSON has it, as what another library gives is kept: a `Date` is its text, and nothing is null. */
type Plain<Value> = 0 extends 1 & Value
  ? Value
  : Value extends undefined
    ? null
    : Value extends { toJSON(key?: never): infer Json }
      ? Json
      : Value extends readonly (infer Item)[]
        ? readonly Plain<Item>[]
        : Value extends object
          ? { readonly [Key in keyof Value]: Plain<Exclude<Value[Key], undefined>> }
          : Value

/** The names of the collections that a field, or anything in it, refers to. */
export type TargetsOf<F extends FieldLike> = F extends Field<unknown, infer Target> ? Target : never

/** The value type by the options: `null` is possible where the field is optional. */
export type Nullable<Value, Options> = Options extends { readonly optional: true } ? Value | null : Value
