/**
 * Zinc Pantry: declare collections of content, check them and compile them. This entry holds what a
 * configuration needs; `zinc-pantry/engine` runs the work and `zinc-pantry/query` reads the result.
 */
export type { CommonOptions, Field, FieldSet, ValueOf } from './schema/field.ts'
export { type ChoiceOptions, choice } from './schema/fields/choice.ts'
export { type DateOptions, date } from './schema/fields/date.ts'
export { type FlagOptions, flag } from './schema/fields/flag.ts'
export { type GroupOptions, group } from './schema/fields/group.ts'
export { type ListOptions, list } from './schema/fields/list.ts'
export { int, type NumberOptions, number } from './schema/fields/number.ts'
export { type RefOptions, ref } from './schema/fields/ref.ts'
export { type TextOptions, text } from './schema/fields/text.ts'
export { type UrlOptions, url } from './schema/fields/url.ts'
export {
  type CollectionSettings,
  type EntryHead,
  type EntryOf,
  type EntrySource,
  type Pantry,
  type PantrySettings,
  pantry,
} from './schema/pantry.ts'
