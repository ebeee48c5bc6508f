import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import type { AnyField } from './any-field.ts'
import type { AssetAnswer } from './asset.ts'
import type { JsonSchema } from './json-schema.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'
import type { StandardValidator } from './standard-validator.ts'

export type { AnyField } from './any-field.ts'

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
  /** Anything that editors and pages want to know of the field, such as how to show it. Default: none. */
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
  F extends Field<infer Value, string> ? Value : F extends StandardValidator<infer Output> ? Output : never

/** The names of the collections that a field, or anything in it, refers to. */
export type TargetsOf<F extends FieldLike> = F extends Field<unknown, infer Target> ? Target : never

/** The value type by the options: `null` is possible where the field is optional. */
export type Nullable<Value, Options> = Options extends { readonly optional: true } ? Value | null : Value

/** One step into a value, as in the readers. */
export type Step = string | number

/** Says whether a text matches a pattern, in bounded time; undefined where that was not enough to find out. */
export type PatternMatcher = (pattern: RegExp, text: string) => boolean | undefined

/** The part of a setting or an entry that a problem concerns: a value, its key, or its absence. */
export type ReportedPart = 'key' | 'value' | 'absent'

/** The surroundings of a check, and the place where its findings go. */
export interface CheckRun {
  /** The path of the value being checked. Checks push and pop while they descend. */
  readonly path: Step[]
  /** How many private fields the value being checked stands in. Checks count up and down while they descend. */
  readonly within: { private: number }
  /** Reports a problem of the value at the current path, of its key, or of what is not there. */
  report<Code extends DiagnosticCode>(code: Code, parameters: ParametersOf<Code>, part?: ReportedPart): void
  /** A single value at the current path as it is written in the file: `007`, `1e3`, `"en"`. */
  written(value: string | number | boolean): string
  /** True where the text has numbers with zeros in front, so that `written` is worth a look. */
  readonly hasLeadingZeros: boolean
  /** Records that the value at the current path refers to an entry. Gives what stands for it until it is found. */
  reference(reference: WantedReference): unknown
  /** Looks at a file that the entry names. */
  asset(path: string): AssetAnswer
  /** Records Markdown at the current path, whose links are to be checked. */
  linked(text: string): void
  /** Matches a pattern of the configuration; nothing of a site's own may be matched in another way. */
  readonly matches: PatternMatcher
}

/** A reference as it is written. */
export interface WantedReference {
  /** The collections that may hold the entry, in the order of the configuration. */
  readonly targets: readonly string[]
  /** The key that the text is compared with: `id`, `slug`, or the name of a field of the target. */
  readonly by: string
  readonly text: string
  /** True where the value must say which collection it leads to. */
  readonly several: boolean
}

/** Stands for an item of a list that is switched off. */
export const OFF = Symbol('off')

/** Stands for a value that did not pass; the problem is reported already. */
export const INVALID = Symbol('invalid')

/** Checks a present value: gives the value for the entry, or {@link INVALID}. */
export type Check = (value: unknown, run: CheckRun) => unknown

/** The treatment of keys that no field declares. */
export type UnknownKeys = 'refuse' | 'ignore'

/** The fields of the blocks of a site by name. */
export type BlockFields = ReadonlyMap<string, Fields>

/** Makes the checks of inner fields. */
export interface Compiler {
  readonly unknownKeys: UnknownKeys
  readonly blocks: BlockFields
  check(field: AnyField): Check
  /** True for a field whose value is computed, and never written. */
  isComputed(field: AnyField): boolean
  /** The value that a field expects, in words for messages. */
  expected(field: AnyField): string
}

/** The rule for the value of one option. */
export type OptionRule =
  | 'flag'
  | 'text'
  | 'number'
  | 'count'
  | 'any'
  | 'texts'
  | 'date'
  | 'time'
  | 'instant'
  | 'pattern'
  | 'hints'
  | 'list'
  | 'positive'
  | readonly string[]

/** The shape of a field in queries, which the generated module carries. */
export type Shape = ListShape | GroupShape | RefShape | TextShape | InstantShape | PlainShape

/** The members of all shapes, so that every shape can be asked for each. */
interface ShapeParts {
  readonly item?: never
  readonly fields?: never
  readonly target?: never
  readonly choices?: never
  readonly zone?: never
}

/** Several values. */
export interface ListShape extends Omit<ShapeParts, 'item'> {
  readonly kind: 'list'
  readonly item: Shape
}

/** Values by name. */
export interface GroupShape extends Omit<ShapeParts, 'fields'> {
  readonly kind: 'group'
  readonly fields: { readonly [name: string]: Shape }
}

/** An entry of another collection. */
export interface RefShape extends Omit<ShapeParts, 'target'> {
  readonly kind: 'ref'
  readonly target: string
}

/** A text; `plain` has no order. */
export interface TextShape extends Omit<ShapeParts, 'choices'> {
  readonly kind: 'text' | 'plain'
  /** The values that are allowed, where they are few and known. */
  readonly choices?: readonly string[]
}

/** A point in time. */
export interface InstantShape extends Omit<ShapeParts, 'zone'> {
  readonly kind: 'instant'
  /** The zone of instants and days that name none. Default: UTC. */
  readonly zone?: string
}

/** A single value, or one of which nothing is known. */
export interface PlainShape extends ShapeParts {
  readonly kind: 'number' | 'date' | 'time' | 'flag' | 'anything'
}

/** The names of the types in generated TypeScript. */
export interface TypeContext {
  /** The name of the type of a collection's ids. */
  idType(collection: string): string
  /** True where references may lead nowhere, so that they may have no value. */
  readonly mayDangle: boolean
  /** The name of the type of a collection's query fields. */
  fieldsType(collection: string): string
  /** The name of the type of a block. */
  blockType(block: string): string
  /** The name of the type of the query fields of some blocks, told apart by a key. */
  blocksHandle(key: string, blocks: readonly string[]): string
  /** The TypeScript of a field's value. */
  value(field: AnyField): string
  shape(field: AnyField): Shape
}

/** Makes the parts of a JSON Schema. */
export interface SchemaContext {
  readonly unknownKeys: UnknownKeys
  /** The schema of an inner field. */
  inner(field: AnyField, unknownKeys?: UnknownKeys): JsonSchema
  /** The schema of a set of fields. */
  group(fields: Fields, unknownKeys: UnknownKeys, constants?: JsonSchema): JsonSchema
  /** A reference to the schema of a block, told apart by a key. */
  block(name: string, key: string): JsonSchema
}

/** Makes of a value what the output has of it. `owner` is the entry that holds it. */
export type Store = (value: unknown, owner: object) => unknown

/** Makes the stores of inner fields; undefined where a value is kept as it is, so that nothing need be copied. */
export interface StoreContext {
  inner(field: AnyField): Store | undefined
  /** Of a set of fields, told apart by a variant field where there is one: without what is private. */
  group(fields: Fields): Store | undefined
  /** Of the fields of a block. */
  block(name: string): Store | undefined
  /** The HTML of Markdown. */
  render(text: string, owner: object): string
}

/** Of kinds whose values the output has as they are. */
export const storeAsIs = (): undefined => undefined

/** The fields inside of a field. */
export interface Children {
  /** The item of a list or a map; paths enter it in silence. */
  readonly item?: AnyField
  /** The fields of a group. */
  readonly fields?: Fields
  /** The fields of each shape of a variant. */
  readonly variants?: { readonly [name: string]: Fields }
  /** The names of the blocks that are allowed, and the key that says which one it is. */
  readonly blocks?: { readonly names: readonly string[]; readonly key: string }
}

/** Where the values of a field lead. */
export interface Leading {
  /** The collections of the entries. */
  readonly targets: readonly string[]
  /** The key that written texts are compared with; undefined for a reference that is read backwards. */
  readonly by?: string
  /** The dotted path, in the target's fields, of the reference that is read backwards. */
  readonly through?: string
}

/** How the cells of a table are read. */
export interface CellReading {
  readonly listSeparator: string
  /** Reads the cell of an inner field. */
  inner(cell: unknown, field: AnyField): unknown
}

/** All there is to know about one kind of field, kept together in the kind's own file. */
export interface Kind<Own extends AnyField = AnyField> {
  /** The value that is expected, in words for messages: `text`, `a whole number`. */
  expected(field: Own): string
  /** The options it takes beside the common ones, and what each must be. */
  readonly options: { readonly [name: string]: OptionRule }
  /** Pairs of options of which the first may not exceed the second. */
  readonly ranges?: readonly (readonly [low: string, high: string])[]
  /** Checks what is declared beside options. Fields inside are checked by themselves. */
  checkDeclaration?(field: Own, reader: SettingsReader, path: SettingStep[]): void
  /** Makes the check once, to be run many times. */
  compile(field: Own, compiler: Compiler): Check
  /** The value of a cell of a table, which is text. Default: the text, without spaces around it. */
  readCell?(cell: string, field: Own, reading: CellReading): unknown
  /** The fields inside of it. Default: none. */
  children?(field: Own): Children
  /** Where its values lead. Default: nowhere. */
  leading?(field: Own): Leading
  /** The words that its values are, where they are few and known, with what people see for them. */
  words?(field: Own): { readonly choices: readonly string[]; readonly labels?: Readonly<Record<string, string>> }
  /** True where entries can be put in the order of its values. Default: they cannot. */
  isOrdered?(field: Own): boolean
  /** True where references can compare with its values. */
  readonly isKey?: boolean
  shape(field: Own, inner: (field: AnyField, blocks?: BlockFields) => Shape, blocks: BlockFields): Shape
  /** The form that its values have in the output; fields inside of it are stored as their kinds say. */
  store(field: Own, context: StoreContext): Store | undefined
  /** The TypeScript of its value. */
  valueType(field: Own, context: TypeContext, inner: (field: AnyField) => string): string
  /** The TypeScript of its query handle; the runtime's types are reached through `$`. */
  handleType(field: Own, context: TypeContext, inner: (field: AnyField) => string): string
  /** The JSON Schema 2020-12 of its values, as far as there are keywords. */
  jsonSchema(field: Own, context: SchemaContext): JsonSchema
  /** True for a field whose value is computed, and never written. */
  readonly computed?: boolean
}

/** Reports that a text is not of its form; gives {@link INVALID}. */
export function reject<Code extends DiagnosticCode>(
  run: CheckRun,
  code: Code,
  parameters: ParametersOf<Code>,
): typeof INVALID {
  run.report(code, parameters)
  return INVALID
}

/** Reports a value of the wrong type, with what a writer should do about it. */
export function wrongType(
  run: CheckRun,
  seen: string,
  expected: string | { readonly words: string; readonly type: ValueType },
  hint?: string | undefined,
): typeof INVALID {
  const { words, type } = typeof expected === 'string' ? { words: expected, type: undefined } : expected
  run.report('value-type', { seen, expected: words, hint, type })
  return INVALID
}

/** Types by the names of JSON Schema. */
export type ValueType = 'string' | 'number' | 'integer' | 'boolean' | 'array'
