import { suggestNearest } from '../diagnostics/suggest.ts'
import type { AnyField } from './any-field.ts'
import type { Fields } from './field.ts'
import { onlyTarget } from './fields/ref.ts'
import { mergedFields } from './fields/variant.ts'
import { kindOf } from './kinds.ts'
import type { OrderKey, Publication } from './model.ts'
import { orderedFields } from './ordered-fields.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'
import { byWrittenKey } from './written-key.ts'

/** Reads the settings of a collection that name its fields. */
export interface FieldUses {
  /** The key that names entries or the end of their address, which writers write and everybody sees. */
  key(path: SettingStep[], value: unknown): string | undefined
  /** A field that writers write. */
  written(path: SettingStep[], value: unknown): string | undefined
  combinations(path: SettingStep[], value: unknown): readonly (readonly string[])[]
  publication(path: SettingStep[], value: unknown): Publication | undefined
  parent(path: SettingStep[], value: unknown, collection: string): string | undefined
  createFrom(path: SettingStep[], value: unknown): string | undefined
  moment(path: SettingStep[], value: unknown): string | undefined
  address(path: SettingStep[], value: unknown): string | undefined
  /** A field with a list of texts. */
  texts(path: SettingStep[], value: unknown): string | undefined
  order(path: SettingStep[], value: unknown): readonly OrderKey[]
}

const MOMENTS = ['date', 'instant']

const hasOrder = (field: AnyField): boolean => kindOf(field).isOrdered?.(field) === true

/** The fields of a collection: those that writers write, and those that are computed. */
export function createFieldUses(reader: SettingsReader, written: Fields, derived: Fields): FieldUses {
  const fields = mergedFields({ ...written, ...derived })
  const writtenFields = mergedFields(written)
  /** A setting that is the name of a field that fits. */
  const named = (
    path: SettingStep[],
    value: unknown,
    expected: string,
    fits: (field: AnyField, name: string) => boolean,
  ): string | undefined => {
    const name = reader.text(path, value)
    if (name === undefined) return undefined
    const field = Object.hasOwn(fields, name) ? fields[name] : undefined
    if (field && fits(field, name)) return name
    const known = Object.keys(fields).filter((other) => fits(fields[other] as AnyField, other))
    reader.report('config-field-unfit', path, { name, expected, suggestion: suggestNearest(name, known), known })
    return undefined
  }
  const moment = (path: SettingStep[], value: unknown): string | undefined =>
    named(path, value, 'a date or an instant', ({ kind }) => MOMENTS.includes(kind))
  const isWritten = (name: string): boolean => !Object.hasOwn(derived, name)
  return {
    moment,
    key(path, value) {
      const name = reader.text(path, value)
      const field = name === undefined ? undefined : (byWrittenKey(writtenFields).get(name) ?? derived[name])
      if (name === undefined || !field) return name
      const isFit = !Object.hasOwn(derived, name) && field.kind !== 'reverse' && field.options.private !== true
      return isFit ? name : named(path, name, 'a key that is written and not private', () => false)
    },
    written: (path, value) => named(path, value, 'a field that is written', (_, name) => isWritten(name)),
    address: (path, value) =>
      named(path, value, 'a text that is not private', ({ kind, options }) => kind === 'text' && !options.private),
    texts: (path, value) =>
      named(
        path,
        value,
        'a list of texts that is not private',
        (field) => field.kind === 'list' && field.item?.kind === 'text' && !field.options.private,
      ),
    combinations(path, value) {
      if (value === undefined) return []
      if (!Array.isArray(value)) {
        reader.invalid(path, value, 'a list of lists of fields')
        return []
      }
      return value.map((names, position) =>
        reader
          .texts([...path, position], names)
          .flatMap((name) => named([...path, position], name, 'a field', () => true) ?? []),
      )
    },
    publication(path, value) {
      if (value === undefined) return undefined
      if (typeof value !== 'object' || value === null) return reader.invalid(path, value, 'an object of settings')
      reader.known(path, value, ['draft', 'from', 'until'])
      const { draft, from, until } = value as Record<string, unknown>
      return {
        draft: named([...path, 'draft'], draft, 'a flag', ({ kind }) => kind === 'flag'),
        from: moment([...path, 'from'], from),
        until: moment([...path, 'until'], until),
      }
    },
    parent: (path, value, collection) =>
      named(
        path,
        value,
        `a reference to ${collection} itself`,
        (field, name) => isWritten(name) && field.kind === 'ref' && onlyTarget(field) === collection,
      ),
    createFrom(path, value) {
      const name = named(path, value, 'a text', ({ kind }, own) => isWritten(own) && kind === 'text')
      for (const [other, { options, kind }] of Object.entries(written)) {
        if (
          name === undefined ||
          other === name ||
          options.optional ||
          options.default !== undefined ||
          kind === 'reverse'
        )
          continue
        reader.report('config-create-incomplete', path, { name: other })
      }
      return name
    },
    order(path, value) {
      return orderedFields(reader.text(path, value) ?? '').flatMap(({ field: name, direction }): OrderKey[] => {
        const field = named(path, name, 'a single value with an order', hasOrder)
        return field === undefined ? [] : [{ field, direction }]
      })
    },
  }
}
