import { createDiagnostic, messageOf } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import { compileField } from './compile-schema.ts'
import {
  type CheckRun,
  type Field,
  type FieldSet,
  INVALID,
  type Kind,
  type OptionRule,
  type UnknownKeys,
} from './field.ts'
import { whyNoDate } from './fields/date.ts'
import { isField, kindOf } from './kinds.ts'
import { HEAD_NAMES } from './model.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

const COMMON: Readonly<Record<string, OptionRule>> = {
  optional: 'flag',
  label: 'text',
  description: 'text',
  examples: 'list',
  deprecated: 'flag',
}

/** Names that query handles of groups and references have for themselves. */
const HANDLE_NAMES: readonly string[] = [
  'is',
  'isNot',
  'isOneOf',
  'isNoneOf',
  'isPresent',
  'isAbsent',
  'ascending',
  'descending',
]

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
): FieldSet {
  const good: Record<string, Field> = {}
  for (const [name, field] of Object.entries(fields)) {
    const at = [...path, name]
    if (around.top && HEAD_NAMES.includes(name))
      reader.report('config-field-reserved', at, reserved(name, 'every entry has it from the engine'))
    else if (HANDLE_NAMES.includes(name))
      reader.report('config-field-reserved', at, reserved(name, 'queries use it as an operator'))
    else if (!isField(field)) reader.invalid(at, field, 'a field, such as text()')
    else {
      checkField(reader, at, field, around)
      good[name] = field
    }
  }
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

function checkField(reader: SettingsReader, path: SettingStep[], field: Field, around: Surroundings): void {
  const before = reader.problems.length
  const kind = kindOf(field)
  const options = field.options as Readonly<Record<string, unknown>>
  const rules = { ...COMMON, ...kind.options }
  reader.known(path, options, Object.keys(rules))
  for (const [name, rule] of Object.entries(rules))
    if (options[name] !== undefined) checkOption(reader, [...path, name], options[name], rule)
  checkPattern(reader, path, options.pattern)
  checkRanges(reader, path, kind, options)
  checkInside(reader, path, field, around)
  const sound = reader.problems.length === before
  if (sound && options.default !== undefined) checkDefault(reader, [...path, 'default'], field, around)
}

function checkInside(reader: SettingsReader, path: SettingStep[], field: Field, around: Surroundings): void {
  if (field.kind === 'list') {
    if (isField(field.item)) checkField(reader, [...path, 'item'], field.item, { ...around, top: false })
    else reader.invalid([...path, 'item'], field.item, 'a field, such as text()')
  }
  if (field.kind === 'group') checkFieldSet(reader, path, Object(field.fields), { ...around, top: false })
  if (field.kind === 'choice') {
    const { choices } = field
    if (!Array.isArray(choices) || choices.length === 0 || choices.some((word) => typeof word !== 'string'))
      reader.invalid(path, choices, 'a list of words')
    else if (new Set(choices).size < choices.length) reader.invalid(path, 'a list with a word twice', 'different words')
  }
  if (field.kind === 'ref' && typeof field.target !== 'string')
    reader.invalid(path, field.target, 'the name of a collection')
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
    reader.report('config-pattern-invalid', [...path, 'pattern'], { pattern, reason })
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

function checkDefault(reader: SettingsReader, path: SettingStep[], field: Field, around: Surroundings): void {
  const value = (field.options as { default?: unknown }).default
  const problems: string[] = []
  const run: CheckRun = {
    path: [],
    reference: () => undefined,
    written: String,
    report: (code, parameters) =>
      problems.push(messageOf(createDiagnostic(code, { file: '', span: [0, 0] }, parameters))),
  }
  if (compileField(field, around.unknownKeys)(value, run) !== INVALID) return
  const problem = problems[0] ?? `${describeValue(value)} does not fit`
  reader.report('config-default-invalid', path, { problem: problem.charAt(0).toLowerCase() + problem.slice(1) })
}
