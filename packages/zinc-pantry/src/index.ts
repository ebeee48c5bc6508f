/**
 * Zinc Pantry: declare collections of content, check them and compile them. This entry holds what a
 * configuration needs; `zinc-pantry/engine` runs the work and `zinc-pantry/query` reads the result.
 */
export type { CommonOptions, Field, FieldSet, ValueOf } from './schema/field.ts'
export { type ChoiceField, type ChoiceOptions, choice } from './schema/fields/choice.ts'
export { type DateField, type DateOptions, date } from './schema/fields/date.ts'
export { type FlagField, type FlagOptions, flag } from './schema/fields/flag.ts'
export { type GroupField, type GroupOptions, type GroupValue, group } from './schema/fields/group.ts'
export { type ListField, type ListOptions, list } from './schema/fields/list.ts'
export { int, type NumberField, type NumberOptions, number } from './schema/fields/number.ts'
export { type RefField, type RefOptions, ref } from './schema/fields/ref.ts'
export { type TextField, type TextOptions, text } from './schema/fields/text.ts'
export { type UrlField, type UrlOptions, url } from './schema/fields/url.ts'
export {
  type CollectionSettings,
  type EntryHead,
  type EntryOf,
  type EntrySource,
  type Pantry,
  type PantrySettings,
  pantry,
} from './schema/pantry.ts'
