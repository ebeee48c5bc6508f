import { createDiagnostic, messageOf } from '../diagnostics/diagnostic.ts'
import { isGroup, setOwn } from '../diagnostics/own-key.ts'
import { describeValue } from '../diagnostics/words.ts'
import { HANDLE_NAMES } from '../values/operators.ts'
import type { AnyField } from './any-field.ts'
import { checkLoosened } from './check-loosened.ts'
import { createDetachedRun, INVALID } from './check-run.ts'
import { compileField } from './compile-schema.ts'
import type { Fields } from './field.ts'
import { whyNoDate } from './fields/date.ts'
import { isInstant } from './fields/instant.ts'
import { timeForm } from './fields/time.ts'
import { asField } from './fields/validator.ts'
import type { Kind, OptionRule, UnknownKeys } from './kind.ts'
import { childrenOf, isField, kindOf } from './kinds.ts'
import { HEAD_NAMES } from './model.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'
import { isRest, writtenKey } from './written-key.ts'

const COMMON: Readonly<Record<string, OptionRule>> = {
  optional: 'flag',
  label: 'text',
  description: 'text',
  examples: 'list',
  deprecated: 'flag',
  private: 'flag',
  unique: 'flag',
  writtenAs: 'text',
  section: 'text',
  hints: 'hints',
}

interface Surroundings {
  /** True for the fields of an entry itself, where the engine's own names are taken. */
  readonly top: boolean
  readonly unknownKeys: UnknownKeys
}

/** Checks named fields and all in them; gives those that are fields and have a name of their own. */
export function checkFieldSet(
  reader: SettingsReader,
  path: SettingStep[],
  fields: object,
  around: Surroundings,
): Fields {
  const good: Record<string, AnyField> = {}
  const variants: string[] = []
  /** The fields by the keys that they are read from; under none that of all others. */
  const writers = new Map<string | undefined, string>()
  for (const [name, declared] of Object.entries(fields)) {
    const at = [...path, name]
    const field: unknown = declared === undefined || declared === null ? declared : asField(declared)
    if (around.top && HEAD_NAMES.includes(name))
      reader.report('config-field-reserved', at, reserved(name, 'every entry has it from the engine'))
    else if (HANDLE_NAMES.includes(name))
      reader.report('config-field-reserved', at, reserved(name, 'queries use it as an operator'))
    else if (!isField(field)) reader.invalid(at, field, 'a field, such as text()')
    else {
      checkField(reader, at, field, around)
      setOwn(good, name, field)
      const key = isRest(field) ? undefined : writtenKey(name, field)
      const other = writers.get(key)
      if (other !== undefined) reader.report('config-key-twice', at, { key, other })
      writers.set(key, name)
      if (field.kind === 'variant') variants.push(name)
    }
  }
  if (variants.length > 1)
    reader.report('config-variant-twice', [...path, variants[1] ?? ''], { first: variants[0] ?? '' })
  return good
}

const PROPOSALS: Readonly<Record<string, string>> = {
  id: 'key',
  slug: 'address',
  collection: 'series',
  locale: 'language',
  source: 'origin',
  body: 'content',
}

const reserved = (name: string, why: string) => ({ name, why, suggestion: PROPOSALS[name] ?? `${name}Value` })

function checkField(reader: SettingsReader, path: SettingStep[], field: AnyField, around: Surroundings): void {
  const before = reader.problems.length
  const kind = kindOf(field)
  const options = field.options as Readonly<Record<string, unknown>>
  const rules = { ...COMMON, ...kind.options }
  reader.known(path, options, Object.keys(rules))
  for (const [name, rule] of Object.entries(rules))
    if (options[name] !== undefined) checkOption(reader, [...path, name], options[name], rule)
  checkPattern(reader, [...path, 'pattern'], options.pattern)
  checkRanges(reader, path, kind, options)
  if (options.unique === true && !around.top)
    reader.invalid([...path, 'unique'], true, 'nothing: only fields of the entry itself can be unique')
  checkInside(reader, path, field, around)
  if (field.base) checkLoosened(reader, path, field, field.base as AnyField)
  const sound = reader.problems.length === before
  if (sound && options.default !== undefined) checkDefault(reader, [...path, 'default'], field, around)
}

function checkInside(reader: SettingsReader, path: SettingStep[], field: AnyField, around: Surroundings): void {
  kindOf(field).checkDeclaration?.(field, reader, path)
  const within = { ...around, top: false }
  const children = childrenOf(field)
  const { item, keys, fields, variants = {}, alternatives = [] } = children
  if (isField(item)) checkField(reader, [...path, 'item'], item, within)
  else if ('item' in children) reader.invalid([...path, 'item'], item, 'a field, such as text()')
  for (const [at, one] of alternatives.entries())
    if (isField(one)) checkField(reader, [...path, at], one, within)
    else reader.invalid([...path, at], one, 'a field, such as text()')
  if (isField(keys)) checkField(reader, [...path, 'propertyNames'], keys, within)
  if ('fields' in children) checkFieldSet(reader, path, Object(fields), within)
  for (const [name, variant] of Object.entries(variants))
    checkFieldSet(reader, [...path, name], Object(variant), around)
}

const EXPECTED: Readonly<Record<string, string>> = {
  flag: 'true or false',
  text: 'text',
  number: 'a number',
  count: 'a whole number from 0',
  positive: 'a number above 0',
  texts: 'a list of texts',
  date: 'a date as YYYY-MM-DD',
  list: 'a list',
  time: 'a time as HH:MM',
  instant: 'an instant as YYYY-MM-DDTHH:MM:SSZ',
  pattern: 'a regular expression',
  hints: 'an object',
}

function checkOption(reader: SettingsReader, path: SettingStep[], value: unknown, rule: OptionRule): void {
  if (typeof rule !== 'string') reader.oneOf(path, value, rule)
  else if (!fitsRule(value, rule)) reader.invalid(path, value, EXPECTED[rule] ?? rule)
}

function fitsRule(value: unknown, rule: Exclude<OptionRule, readonly string[]>): boolean {
  switch (rule) {
    case 'flag':
      return typeof value === 'boolean'
    case 'text':
      return typeof value === 'string'
    case 'number':
      return Number.isFinite(value)
    case 'count':
      return Number.isSafeInteger(value) && (value as number) >= 0
    case 'positive':
      return Number.isFinite(value) && (value as number) > 0
    case 'texts':
      return Array.isArray(value) && value.length > 0 && value.every((item) => typeof item === 'string')
    case 'date':
      return typeof value === 'string' && whyNoDate(value) === undefined
    case 'list':
      return Array.isArray(value)
    case 'time':
      return typeof value === 'string' && 'value' in timeForm.read(value, { kind: 'time', options: {} })
    case 'instant':
      return typeof value === 'string' && isInstant(value)
    case 'pattern':
      return typeof value === 'string'
    case 'hints':
      return isGroup(value)
    case 'any':
      return true
  }
}

function checkPattern(reader: SettingsReader, path: SettingStep[], pattern: unknown): void {
  if (typeof pattern !== 'string') return
  try {
    new RegExp(pattern, 'u')
  } catch (error) {
    const text = error instanceof Error ? error.message : String(error)
    const reason = text.slice(text.lastIndexOf(': ') + 2)
    reader.report('config-pattern-invalid', path, { pattern, reason })
  }
}

function checkRanges(
  reader: SettingsReader,
  path: SettingStep[],
  kind: Kind,
  options: Readonly<Record<string, unknown>>,
): void {
  for (const [low, high] of kind.ranges ?? []) {
    const lowValue = options[low]
    const highValue = options[high]
    if (lowValue === undefined || highValue === undefined || (lowValue as number) <= (highValue as number)) continue
    reader.report('config-range-empty', [...path, high], {
      low,
      lowValue: String(lowValue),
      highValue: String(highValue),
    })
  }
}

function checkDefault(reader: SettingsReader, path: SettingStep[], field: AnyField, around: Surroundings): void {
  const value = (field.options as { default?: unknown }).default
  const problems: string[] = []
  const run = createDetachedRun({
    // A configuration is its author's own.
    matches: (pattern, text) => pattern.test(text),
    report: (code, parameters) =>
      problems.push(messageOf(createDiagnostic(code, { file: '', span: [0, 0] }, parameters))),
  })
  if (compileField(field, around.unknownKeys)(value, run) !== INVALID) return
  const problem = problems[0] ?? `${describeValue(value)} does not fit`
  reader.report('config-default-invalid', path, { problem: problem.charAt(0).toLowerCase() + problem.slice(1) })
}
