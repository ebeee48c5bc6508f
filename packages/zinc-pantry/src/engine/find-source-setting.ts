import type { Fields } from '../schema/field.ts'
import { childrenOf } from '../schema/kinds.ts'
import { allFields, type Model } from '../schema/model.ts'
import type { SettingStep } from '../schema/settings-reader.ts'

/** The path of the first setting that asks for images in other sizes; undefined where none does. */
export function findSourceSetting({ collections, blocks }: Model): readonly SettingStep[] | undefined {
  for (const collection of collections) {
    const path = ['collections', collection.name]
    if (collection.body?.sources) return [...path, 'body', 'sources']
    const found = findInFields(allFields(collection), [...path, 'fields'])
    if (found) return found
  }
  for (const [name, fields] of blocks) {
    const found = findInFields(fields, ['blocks', name, 'fields'])
    if (found) return found
  }
  return undefined
}

function findInFields(fields: Fields, path: readonly SettingStep[]): readonly SettingStep[] | undefined {
  for (const [name, field] of Object.entries(fields)) {
    const found = findInField(field, [...path, name])
    if (found) return found
  }
  return undefined
}

function findInField(field: Fields[string], path: readonly SettingStep[]): readonly SettingStep[] | undefined {
  if (field.kind === 'image' && field.options.sources) return [...path, 'sources']
  const { item, fields = {}, variants = {}, alternatives = [] } = childrenOf(field)
  return (
    (item && findInField(item, [...path, 'item'])) ??
    findInFields(fields, path) ??
    Object.entries(variants).reduce<readonly SettingStep[] | undefined>(
      (found, [name, own]) => found ?? findInFields(own, [...path, name]),
      undefined,
    ) ??
    findInFields(Object.fromEntries(alternatives.entries()), path)
  )
}
