import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'

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
  /** Marks a field that new content should not use, as in JSON Schema. Default: false. */
  readonly deprecated?: boolean
}

/**
 * A field as a configuration declares it: plain data. `Value` is the type its value has in an entry,
 * `Target` the names of the collections it refers to.
 */
export interface Field<Value = unknown, Target extends string = string> {
  readonly kind: string
  readonly options: CommonOptions & { readonly default?: unknown }
  /** What a list holds. */
  readonly item?: Field
  /** What a group holds. */
  readonly fields?: FieldSet
  /** The collection a reference points into. */
  readonly target?: string
  /** The values a choice allows. */
  readonly choices?: readonly string[]
  /** Exists in types only. Boxed, since an optional property alone can lose `never` to `undefined`. */
  readonly [VALUE]?: { readonly value: Value }
  /** Exists in types only. */
  readonly [TARGET]?: { readonly target: Target }
}

/** Named fields: of a collection, or of a group. Plain data, to be shared and spread. */
export type FieldSet = { readonly [name: string]: Field }

/** The type of a field's value in an entry. */
export type ValueOf<F extends Field> = F extends Field<infer Value, string> ? Value : never

/** The names of the collections that a field, or anything in it, refers to. */
export type TargetsOf<F extends Field> = F extends Field<unknown, infer Target> ? Target : never

/** The value type by the options: `null` is possible where the field is optional. */
export type Nullable<Value, Options> = Options extends { readonly optional: true } ? Value | null : Value

/** One step into a value, as in the readers. */
export type Step = string | number

/** What a check needs from its surroundings, and where its findings go. */
export interface CheckRun {
  /** The path of the value being checked. Checks push and pop while they descend. */
  readonly path: Step[]
  /** Reports a problem of the value at the current path, or of its key. */
  report<Code extends DiagnosticCode>(code: Code, parameters: ParametersOf<Code>, part?: 'key' | 'value'): void
  /** A single value at the current path as it is written in the file: `007`, `1e3`, `"en"`. */
  written(value: string | number | boolean): string
  /** Records that the value at the current path refers to an entry. */
  reference(target: string, id: string): void
}

/** Stands for a value that did not pass; the problem is reported already. */
export const INVALID = Symbol('invalid')

/** Checks a present value: gives the value for the entry, or {@link INVALID}. */
export type Check = (value: unknown, run: CheckRun) => unknown

/** What happens to keys that no field declares. */
export type UnknownKeys = 'refuse' | 'ignore'

/** Makes the checks of inner fields. */
export interface Compiler {
  readonly unknownKeys: UnknownKeys
  check(field: Field): Check
  /** What is expected of a field, for messages. */
  expected(field: Field): string
}

/** What the value of one option must be. */
export type OptionRule =
  | 'flag'
  | 'text'
  | 'number'
  | 'count'
  | 'any'
  | 'texts'
  | 'date'
  | 'list'
  | 'positive'
  | readonly string[]

/** What a query can do with a field; the generated module carries it. */
export interface Shape {
  readonly kind: 'text' | 'number' | 'date' | 'flag' | 'ref' | 'list' | 'group'
  readonly target?: string
  readonly item?: Shape
  readonly fields?: { readonly [name: string]: Shape }
  /** The allowed values, where they are few and known. */
  readonly choices?: readonly string[]
}

/** What an emitter of TypeScript must know to name types. */
export interface TypeContext {
  /** The name of the type of a collection's ids. */
  idType(collection: string): string
  /** The name of the type of a collection's query fields. */
  fieldsType(collection: string): string
}

/** All there is to know about one kind of field, kept together in the kind's own file. */
export interface Kind {
  /** What is expected, for messages: `text`, `a whole number`. */
  expected(field: Field): string
  /** The options it takes beside the common ones, and what each must be. */
  readonly options: { readonly [name: string]: OptionRule }
  /** Pairs of options of which the first may not exceed the second. */
  readonly ranges?: readonly (readonly [low: string, high: string])[]
  /** Makes the check once, to be run many times. */
  compile(field: Field, compiler: Compiler): Check
  shape(field: Field, inner: (field: Field) => Shape): Shape
  /** The TypeScript of its value. */
  valueType(field: Field, context: TypeContext, inner: (field: Field) => string): string
  /** The TypeScript of its query handle; the runtime's types are reached through `$`. */
  handleType(field: Field, context: TypeContext, inner: (field: Field) => string): string
}

/** Reports a value of the wrong type, with what a writer should do about it. */
export const wrongType = (run: CheckRun, seen: string, expected: string, hint?: string | undefined): typeof INVALID => {
  run.report('value-type', { seen, expected, hint })
  return INVALID
}
