import type { FieldUses } from './field-uses.ts'
import type { IdRule, SlugRule } from './naming-rule.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** Reads where ids come from. */
export function buildIdRule(reader: SettingsReader, path: SettingStep[], value: unknown, uses: FieldUses): IdRule {
  if (value === undefined) return { by: 'name' }
  if (value === false) return { by: 'position' }
  if (value === '' || (typeof value !== 'string' && !Array.isArray(value))) {
    reader.invalid(path, value, 'a key, a list of keys, or false')
    return { by: 'name' }
  }
  const isOne = typeof value === 'string'
  const keys = reader
    .texts(path, value)
    .flatMap((key, position) => uses.key(isOne ? path : [...path, position], key) ?? [])
  return keys.length === 0 ? { by: 'name' } : { by: 'keys', keys }
}

/** Reads where slugs come from. */
export function buildSlugRule(reader: SettingsReader, path: SettingStep[], value: unknown, uses: FieldUses): SlugRule {
  if (value === undefined) return { by: 'id' }
  if (value === false) return { by: 'none' }
  if (typeof value === 'function') return { by: 'function', from: value as (entry: never) => unknown }
  const key =
    typeof value === 'string' ? uses.key(path, value) : reader.invalid(path, value, 'a key, a function or false')
  return key === undefined ? { by: 'id' } : { by: 'key', key }
}
