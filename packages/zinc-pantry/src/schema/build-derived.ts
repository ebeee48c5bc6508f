import { setOwn } from '../diagnostics/own-key.ts'
import type { AnyField } from './any-field.ts'
import { checkFieldSet } from './check-fields.ts'
import type { DerivedField, Rule } from './computation.ts'
import type { Fields } from './field.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

type Derived = { readonly [name: string]: DerivedField }

/** The fields of derived values, by name. */
export const fieldsOf = (derived: Derived): Fields =>
  Object.fromEntries(Object.entries(derived).map(([name, { field }]) => [name, field]))

/** Checks the derived fields of a collection. */
export function buildDerived(reader: SettingsReader, path: SettingStep[], value: unknown, fields: Fields): Derived {
  if (value === undefined) return {}
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    reader.invalid(path, value, 'an object with a derived field under each name')
    return {}
  }
  const found: Record<string, DerivedField> = {}
  for (const [name, one] of Object.entries(value as Record<string, unknown>)) {
    const at = [...path, name]
    const { field, from } = Object(one) as { field?: unknown; from?: unknown }
    if (Object.hasOwn(fields, name)) reader.report('config-field-twice', at, { name })
    else if (isReverse(field))
      reader.invalid([...at, 'field'], 'a reverse reference', 'a field with a value to compute')
    else if (typeof from !== 'function') reader.invalid([...at, 'from'], from, 'a function of the entry')
    else {
      const checked: AnyField | undefined = checkFieldSet(
        reader,
        path,
        { [name]: field },
        { top: true, unknownKeys: 'refuse' },
      )[name]
      if (checked) setOwn(found, name, { field: checked, from: from as DerivedField['from'] })
    }
  }
  return found
}

const isReverse = (field: unknown): boolean => Object(field).kind === 'reverse'

/** Checks that rules are functions. */
export function buildRules(reader: SettingsReader, path: SettingStep[], value: unknown): readonly Rule[] {
  if (value === undefined) return []
  if (!Array.isArray(value)) {
    reader.invalid(path, value, 'a list of functions')
    return []
  }
  return value.filter((rule, position) => {
    if (typeof rule === 'function') return true
    reader.invalid([...path, position], rule, 'a function of the entry')
    return false
  })
}
