import { setOwn } from '../../diagnostics/own-key.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { describeValue } from '../../diagnostics/words.ts'
import { type Check, type CheckRun, type CommonOptions, type Compiler, type Field, type FieldSet, INVALID, type Kind, type Nullable, type TargetsOf, type UnknownKeys, type ValueOf, wrongType } from '../field.ts'

/** Options of {@link group}. */
export interface GroupOptions extends CommonOptions {
  /** Whether keys that no field declares are problems. Default: as the collection says. */
  readonly unknownKeys?: UnknownKeys
}

/** The value of a group of fields. */
export type GroupValue<Fields extends FieldSet> = { readonly [Name in keyof Fields]: ValueOf<Fields[Name]> }

/** A field of {@link group}. */
export interface GroupField<Value, Target extends string> extends Field<Value, Target> {
  readonly kind: 'group'
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
  return { kind: 'group', fields, options: options ?? {} }
}

/** A field of a group, ready to be checked. */
interface Part {
  readonly name: string
  readonly check: Check
  readonly expected: string
  readonly optional: boolean
  /** Undefined where there is none. */
  readonly default: unknown
}

/** How {@link compileFields} treats keys that are not fields. */
export interface KeyRules {
  readonly unknownKeys: UnknownKeys
  /** Keys that mean something else here, such as the one that gives the id. */
  readonly otherKeys: readonly string[]
}

/**
 * Makes the check of a set of fields, of a group or of a whole entry. A missing field whose name was
 * misspelt is told once, as the unknown key.
 */
export function compileFields(fields: FieldSet, rules: KeyRules, compiler: Compiler): Check {
  const parts = Object.entries(fields).map(([name, field]): Part => {
    return {
      name,
      check: compiler.check(field),
      expected: compiler.expected(field),
      optional: field.options.optional === true,
      default: field.options.default,
    }
  })
  const names = new Set(parts.map((part) => part.name))
  const others = new Set(rules.otherKeys)
  return (value, run) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return wrongType(run, describeValue(value), 'a group of keys')
    const source = value as Record<string, unknown>
    const result: Record<string, unknown> = {}
    const missing: Part[] = []
    let present = 0
    let valid = true
    for (const part of parts) {
      const here = Object.hasOwn(source, part.name)
      if (here) present++
      const raw = (here ? source[part.name] : undefined) ?? part.default
      if (raw === undefined) {
        if (part.optional) setOwn(result, part.name, null)
        else missing.push(part)
        continue
      }
      run.path.push(part.name)
      const checked = part.check(raw, run)
      run.path.pop()
      if (checked === INVALID) valid = false
      else setOwn(result, part.name, checked)
    }
    const keys = Object.keys(source)
    const explained = new Set<string>()
    if (keys.length > present && rules.unknownKeys === 'refuse') {
      for (const key of keys) {
        if (names.has(key) || others.has(key)) continue
        valid = false
        const suggestion = reportUnknown(key, source, run)
        if (suggestion !== undefined) explained.add(suggestion)
      }
    }
    for (const part of missing) {
      valid = false
      if (!explained.has(part.name)) reportMissing(part, source, run)
    }
    return valid ? result : INVALID
  }

  function reportUnknown(key: string, source: object, run: CheckRun): string | undefined {
    const free = parts.map((part) => part.name).filter((name) => !Object.hasOwn(source, name))
    const suggestion = suggestNearest(key, free)
    run.path.push(key)
    run.report('field-unknown', { key, suggestion, known: [...names] }, 'key')
    run.path.pop()
    return suggestion
  }
}

function reportMissing(part: Part, source: object, run: CheckRun): void {
  const parameters = { field: part.name, expected: part.expected }
  if (!Object.hasOwn(source, part.name)) return run.report('field-missing', parameters, 'key')
  run.path.push(part.name)
  run.report('field-empty', parameters, 'key')
  run.path.pop()
}

const braces = (lines: readonly string[]): string => `{ ${lines.join('; ')} }`

/** A name as a TypeScript property. */
export const propertyName = (name: string): string =>
  /^[A-Za-z_$][\w$]*$/.test(name) ? name : JSON.stringify(name)

export const groupKind: Kind = {
  expected: () => 'a group of keys',
  options: { unknownKeys: ['refuse', 'ignore'] },
  compile(field, compiler) {
    const { unknownKeys = compiler.unknownKeys } = field.options as GroupOptions
    return compileFields(field.fields ?? {}, { unknownKeys, otherKeys: [] }, { ...compiler, unknownKeys })
  },
  shape: (field, inner) => ({
    kind: 'group',
    fields: Object.fromEntries(Object.entries(field.fields ?? {}).map(([name, part]) => [name, inner(part)])),
  }),
  valueType: (field, _context, inner) =>
    braces(Object.entries(field.fields ?? {}).map(([name, part]) => `readonly ${propertyName(name)}: ${inner(part)}`)),
  handleType: (field, _context, inner) => {
    const fields = braces(Object.entries(field.fields ?? {}).map(([name, part]) => `readonly ${propertyName(name)}: ${inner(part)}`))
    return `$.GroupHandle & ${fields}`
  },
}
