/**
 * Zinc Pantry: declare collections of content, check them and compile them. This entry holds what a
 * configuration needs; `zinc-pantry/engine` runs the work and `zinc-pantry/query` reads the result.
 */
export type { BodyPlugin, BodySettings, BodySources, RawHtml } from './schema/body-settings.ts'
export type {
  Computation,
  OtherEntry,
  RuledEntry,
  RuleProblem,
  RuleTools,
  SiteView,
} from './schema/computation.ts'
export type { BlockOf, EntryData, EntryHead, EntryOf, EntrySource } from './schema/entry-types.ts'
export type { CommonOptions, Field, FieldLike, FieldSet, Nullable, ValueOf } from './schema/field.ts'
export { type AdaptOptions, adapt } from './schema/fields/adapt.ts'
export { type AnythingField, type AnythingOptions, anything } from './schema/fields/anything.ts'
export { type BlockField, type BlockOptions, type BlockValue, block } from './schema/fields/block.ts'
export { type ChoiceField, type ChoiceOptions, choice } from './schema/fields/choice.ts'
export { type ColourField, type ColourOptions, colour } from './schema/fields/colour.ts'
export { type DateField, type DateOptions, date } from './schema/fields/date.ts'
export { type DurationField, type DurationOptions, duration } from './schema/fields/duration.ts'
export { type EitherField, type EitherOptions, either } from './schema/fields/either.ts'
export { type EmailField, type EmailOptions, email } from './schema/fields/email.ts'
export { type FileField, type FileOptions, type FileValue, file } from './schema/fields/file.ts'
export { type FlagField, type FlagOptions, flag } from './schema/fields/flag.ts'
export { type GroupField, type GroupOptions, type GroupValue, group } from './schema/fields/group.ts'
export { type HistoryField, type HistoryOptions, history } from './schema/fields/history.ts'
export {
  type ImageField,
  type ImageOptions,
  type ImageValue,
  image,
  type SizedImageValue,
} from './schema/fields/image.ts'
export { type InstantField, type InstantOptions, instant } from './schema/fields/instant.ts'
export { type ListField, type ListOptions, list } from './schema/fields/list.ts'
export { type MapField, type MapOptions, map } from './schema/fields/map.ts'
export { type MarkdownField, type MarkdownOptions, markdown } from './schema/fields/markdown.ts'
export { int, type NumberField, type NumberOptions, number } from './schema/fields/number.ts'
export { type EntryAddress, type RefField, type RefOptions, type RefValue, ref } from './schema/fields/ref.ts'
export { type ReverseField, reverse } from './schema/fields/reverse.ts'
export { type TextField, type TextOptions, text } from './schema/fields/text.ts'
export { type TimeField, type TimeOptions, time } from './schema/fields/time.ts'
export { type UrlField, type UrlOptions, url } from './schema/fields/url.ts'
export { type VariantField, type VariantSets, variant } from './schema/fields/variant.ts'
export type { ImageSource, SourceOptions } from './schema/image-sources.ts'
export {
  type BlockSets,
  type CollectionSettings,
  type FieldSets,
  type Pantry,
  type PantrySettings,
  pantry,
} from './schema/pantry.ts'
export { type RemoteOptions, type RemoteSource, remote, type SourceFunction } from './schema/remote.ts'
export type { StandardIssue, StandardResult, StandardValidator } from './schema/standard-validator.ts'
