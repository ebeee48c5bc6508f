import { createDiagnostic, messageOf } from '../diagnostics/diagnostic.ts'
import type { AnyField } from './any-field.ts'
import { checkFieldSet } from './check-fields.ts'
import { createDetachedRun, INVALID } from './check-run.ts'
import { compileField } from './compile-schema.ts'
import type { Fields } from './field.ts'
import { kindOf } from './kinds.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** Kinds whose values stand for something of the content, which a configuration is not. */
const OF_CONTENT = ['ref', 'reverse', 'image', 'file', 'block']

/** Reads which hints fields may have. */
export function buildHints(reader: SettingsReader, value: unknown): Fields {
  if (value === undefined) return {}
  const fields = checkFieldSet(reader, ['hints'], Object(value), { top: false, unknownKeys: 'refuse' })
  for (const [name, field] of Object.entries(fields)) {
    if (OF_CONTENT.includes(field.kind) || kindOf(field).computed)
      reader.invalid(['hints', name], field.kind, 'a field of a value by itself')
    if (field.options.optional !== true && field.options.default === undefined)
      reader.invalid(['hints', name], field.kind, 'an optional field, or one with a default')
  }
  return fields
}

/** The hints of a field with the defaults of the site, or what is wrong with them. */
export function readHints(
  { options }: Pick<AnyField, 'options'>,
  declared: Fields,
): { readonly hints: Readonly<Record<string, unknown>> } | { readonly problem: string } {
  const problems: string[] = []
  const run = createDetachedRun({
    matches: (pattern, text) => pattern.test(text),
    report: (code, parameters) =>
      problems.push(messageOf(createDiagnostic(code, { file: '', span: [0, 0] }, parameters))),
  })
  const hints = compileField({ kind: 'group', fields: declared, options: {} }, 'refuse')(options.hints ?? {}, run)
  const [problem] = problems
  if (problem !== undefined || hints === INVALID) return { problem: problem ?? 'It does not fit' }
  return { hints: hints as Readonly<Record<string, unknown>> }
}

/** Checks the hints of a field by those that the site declares; where it declares none, they may be anything. */
export function checkHints(reader: SettingsReader, path: SettingStep[], field: AnyField, declared: Fields): void {
  if (field.options.hints === undefined || Object.keys(declared).length === 0) return
  const read = readHints(field, declared)
  if ('problem' in read)
    reader.report('config-hints-invalid', [...path, 'hints'], {
      problem: read.problem.charAt(0).toLowerCase() + read.problem.slice(1),
    })
}
