import { setOwn } from '../../diagnostics/own-key.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type Check, type CheckRun, INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldOptions, FieldSet, Fields, Nullable, TargetsOf, ValueOf } from '../field.ts'
import type { Compiler, Kind, UnknownKeys } from '../kind.ts'
import { isRest, writtenKey } from '../written-key.ts'
import { asFields } from './validator.ts'
import { alternativesOf, publicFields, queriedFields, visibleFields } from './variant.ts'

/** Options of {@link group}. */
export interface GroupOptions extends CommonOptions {
  /** Whether keys that no field declares are problems. Default: as the collection says. */
  readonly unknownKeys?: UnknownKeys
  /** The group where the entry has none, as it would be written; `{}` gives each of its fields its own default. */
  readonly default?: Readonly<Record<string, unknown>>
}

/** The value of a group of fields. */
export type GroupValue<Fields extends FieldSet> = { readonly [Name in keyof Fields]: ValueOf<Fields[Name]> }

/** A field of {@link group}. */
export interface GroupField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'group'
  readonly fields: Fields
  readonly options: GroupOptions & FieldOptions
}

/**
 * Several fields under one key, nested as deep as needed.
 *
 * Diagnostics: `value-type`, `field-missing`, `field-empty`, `field-unknown`, and those of its fields.
 *
 * @example
 * ```ts
 * import { group, number } from 'zinc-pantry'
 *
 * const position = group({ latitude: number(), longitude: number() }, { optional: true })
 * ```
 */
export function group<const Fields extends FieldSet, const Options extends GroupOptions = Record<never, never>>(
  fields: Fields,
  options?: Options,
): GroupField<Nullable<GroupValue<Fields>, Options>, TargetsOf<Fields[keyof Fields]>> {
  return { kind: 'group', fields: asFields(fields), options: options ?? {} }
}

/** A field of a group, ready to be checked. */
interface Part {
  readonly name: string
  /** The key that it is read from. */
  readonly key: string
  readonly check: Check
  readonly expected: string
  readonly optional: boolean
  /** Undefined where there is none. */
  readonly default: unknown
  readonly deprecated: boolean
  readonly isPrivate: boolean
}

/** How {@link compileFields} treats keys that are not fields. */
export interface KeyRules {
  /** `keep` leaves them in the value, as they are written. */
  readonly unknownKeys: UnknownKeys | 'keep'
  /** Keys that mean something else here, such as the one that gives the id. */
  readonly otherKeys: readonly string[]
  /** Names that are computed beside the fields, and never written. */
  readonly computed?: ReadonlySet<string>
}

/**
 * Makes the check of a set of fields, of a group or of a whole entry: one, or one a variant.
 */
export function compileFields(fields: Fields, rules: KeyRules, compiler: Compiler): Check {
  const { key, alternatives } = alternativesOf(fields)
  if (key === undefined) return compileShape(fields, rules, compiler)
  const checks = new Map(alternatives.map(({ name, fields: own }) => [name, compileShape(own, rules, compiler)]))
  // A wrong name leaves open which fields belong here; what all shapes share is checked.
  const shared = compileShape(fields, { ...rules, unknownKeys: 'ignore' }, compiler)
  const field = fields[key] as Field
  return (value, run) => {
    const written =
      typeof value === 'object' && value !== null && Object.hasOwn(value, key)
        ? (value as Record<string, unknown>)[key]
        : undefined
    const name = written ?? field.options.default
    return (checks.get(String(name)) ?? shared)(value, run)
  }
}

/**
 * The check of one shape. A missing field whose name was misspelt is told once, as the unknown key.
 */
function compileShape(fields: Fields, rules: KeyRules, compiler: Compiler): Check {
  const written = Object.entries(fields).filter(([, field]) => !compiler.isComputed(field))
  const isComputed = (key: string): boolean =>
    rules.computed?.has(key) === true || (Object.hasOwn(fields, key) && compiler.isComputed(fields[key] as AnyField))
  const parts = written.map(([name, field]): Part => {
    return {
      name,
      key: writtenKey(name, field),
      check: compiler.check(field),
      expected: compiler.expected(field),
      optional: field.options.optional === true,
      default: field.options.default,
      deprecated: field.options.deprecated === true,
      isPrivate: field.options.private === true,
    }
  })
  const rest = written.find(([, field]) => isRest(field))?.[0]
  const keys = new Set(parts.filter(({ name }) => name !== rest).map(({ key }) => key))
  const others = new Set(rules.otherKeys)
  const empty = createTemplate(parts.map(({ name }) => name))
  return (value, run) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return wrongType(run, describeValue(value), 'a group of keys')
    const source = value as Record<string, unknown>
    const result: Record<string, unknown> = { ...empty }
    const unknown = rest === undefined && rules.unknownKeys === 'ignore' ? [] : Object.keys(source).filter(isUnknown)
    const missing: Part[] = []
    const invalid: string[] = []
    for (const part of parts) {
      const checked = checkPart(part, part.name === rest ? { [part.key]: pick(source, unknown) } : source, run)
      if (checked === INVALID) invalid.push(part.name)
      else if (checked === MISSING) missing.push(part)
      else setOwn(result, part.name, checked)
    }
    if (rules.unknownKeys === 'keep') for (const key of unknown) setOwn(result, key, source[key])
    const explained = unknown
      .filter((key) => (rest === undefined && rules.unknownKeys === 'refuse') || isComputed(key))
      .map((key) => reportUnknown(key, source, run))
    for (const part of missing) if (!explained.includes(part.key)) reportMissing(part, source, run)
    // An unknown key is left out; what is there is sound all the same.
    if (invalid.length === 0 && missing.length === 0) return result
    for (const name of [...invalid, ...missing.map((part) => part.name)]) delete result[name]
    if (run.path.length === 0) run.keepPart?.(result)
    return INVALID
  }

  function isUnknown(key: string): boolean {
    return !keys.has(key) && !others.has(key)
  }

  /** Gives the field that was likely meant. */
  function reportUnknown(key: string, source: object, run: CheckRun): string | undefined {
    const free = [...keys].filter((name) => !Object.hasOwn(source, name))
    const suggestion = suggestNearest(key, free)
    run.path.push(key)
    if (isComputed(key)) run.report('field-computed', { key }, 'unknown-key')
    else run.report('field-unknown', { key, suggestion, known: [...keys] }, 'unknown-key')
    run.path.pop()
    return suggestion
  }
}

const MISSING = Symbol('missing')

/**
 * An object with all of some keys. Copies of one that was parsed hold their values in themselves in V8, where keys that are added one
 * by one are soon held in an object beside it, which is a fifth of the memory of a site of many entries.
 */
const createTemplate = (names: readonly string[]): Record<string, unknown> =>
  JSON.parse(JSON.stringify(Object.fromEntries(names.map((name) => [name, null])))) as Record<string, unknown>

function pick(source: Readonly<Record<string, unknown>>, keys: readonly string[]): Record<string, unknown> {
  const picked: Record<string, unknown> = {}
  for (const key of keys) setOwn(picked, key, source[key])
  return picked
}

function checkPart(part: Part, source: Record<string, unknown>, run: CheckRun): unknown {
  const written = Object.hasOwn(source, part.key) ? source[part.key] : undefined
  const raw = written ?? part.default
  if (raw === undefined) return part.optional ? null : MISSING
  run.path.push(part.name)
  if (part.deprecated && written !== undefined && written !== null)
    run.report('field-deprecated', { field: part.key }, 'key')
  if (part.isPrivate) run.within.private++
  const checked = part.check(raw, run)
  if (part.isPrivate) run.within.private--
  run.path.pop()
  return checked
}

function reportMissing(part: Part, source: object, run: CheckRun): void {
  const parameters = { field: part.key, expected: part.expected }
  run.path.push(part.name)
  if (Object.hasOwn(source, part.key)) run.report('field-empty', parameters, 'key')
  else run.report('field-missing', parameters, 'absent')
  run.path.pop()
}

const braces = (lines: readonly string[]): string => `{ ${lines.join('; ')} }`

/** A name as a TypeScript property. */
export const propertyName = (name: string): string => (/^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name))

export const groupKind: Kind<GroupField> = {
  expected: () => 'a group of keys',
  options: { unknownKeys: ['refuse', 'ignore'], default: 'any' },
  compile(field, compiler) {
    const { unknownKeys = compiler.unknownKeys } = field.options
    return compileFields(field.fields, { unknownKeys, otherKeys: [] }, { ...compiler, unknownKeys })
  },
  children: ({ fields }) => ({ fields }),
  shape: (field, inner) => ({
    kind: 'group',
    fields: Object.fromEntries(Object.entries(visibleFields(field.fields)).map(([name, part]) => [name, inner(part)])),
  }),
  store: (field, context) => context.group(field.fields),
  valueType: (field, _context, inner) => shapeTypes(field.fields, inner).join(' | '),
  jsonSchema(field, context) {
    const { unknownKeys = context.unknownKeys } = field.options
    return context.group(field.fields, unknownKeys)
  },
  handleType: (field, context, inner) =>
    `$.GroupHandle<${context.value(required(field))}> & ${braces(propertiesOf(queriedFields(field.fields), inner))}`,
}

/** The same field where a value is there, whose type has no null. */
const required = (field: GroupField): GroupField => ({ ...field, options: { ...field.options, optional: false } })

const propertiesOf = (fields: Fields, inner: (field: AnyField) => string): string[] =>
  Object.entries(publicFields(fields)).map(([name, part]) => `readonly ${propertyName(name)}: ${inner(part)}`)

/** The TypeScript of a set of fields, one type a shape. */
const shapeTypes = (fields: Fields, inner: (field: AnyField) => string): string[] =>
  alternativesOf(fields).alternatives.map(({ fields: own }) => braces(propertiesOf(own, inner)))
