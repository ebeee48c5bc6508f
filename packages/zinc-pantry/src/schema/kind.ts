import type { AnyField } from './any-field.ts'
import type { Check } from './check-run.ts'
import type { Fields } from './field.ts'
import type { JsonSchema } from './json-schema.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'
import type { Shape } from './shape.ts'

/** The treatment of keys that no field declares. */
export type UnknownKeys = 'refuse' | 'ignore'

/** The fields of the blocks of a site by name. */
export interface BlockFields extends ReadonlyMap<string, Fields> {
  /** The blocks that take properties beyond their fields, as they are written. */
  readonly open?: ReadonlySet<string>
}

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

/** The names of the types in generated TypeScript. */
export interface TypeContext {
  /** The TypeScript of what a validator of another library gives, by the configuration itself; undefined where nothing tells. */
  declared(field: AnyField): string | undefined
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
  /** The texts that lead to the entries of a collection, where they are to be told. */
  entries?(collection: string, by: string): readonly EntryText[] | undefined
  /** True for a collection in which references may make entries. */
  isOpen(collection: string): boolean
}

/** A text that leads to an entry, with what people call it. */
export interface EntryText {
  readonly text: string
  readonly label: string
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
  /** The fields of which one takes the value; paths enter them in silence. */
  readonly alternatives?: readonly AnyField[]
  /** The field of the keys of a map, where there is one; a path enters it by the step `keys()`. */
  readonly keys?: AnyField | undefined
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
  expected(field: Own, inner: (field: AnyField) => string): string
  /** The options it takes beside the common ones, and what each must be. */
  readonly options: { readonly [name: string]: OptionRule }
  /** Pairs of options of which the first may not exceed the second. */
  readonly ranges?: readonly (readonly [low: string, high: string])[]
  /** The options, and what is declared beside them, that only decide whether a value is taken, never what becomes of it. Default: none. */
  constraints?(field: Own): readonly string[]
  /** Checks what is declared beside options. Fields inside are checked by themselves. */
  checkDeclaration?(field: Own, reader: SettingsReader, path: SettingStep[]): void
  /** Makes the check once, to be run many times. */
  compile(field: Own, compiler: Compiler): Check
  /** The value of a cell of a table, which is text. Default: the text. */
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
