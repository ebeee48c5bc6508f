import type { AnythingField } from './fields/anything.ts'
import type { BlockField } from './fields/block.ts'
import type { ChoiceField } from './fields/choice.ts'
import type { ColourField } from './fields/colour.ts'
import type { DateField } from './fields/date.ts'
import type { DurationField } from './fields/duration.ts'
import type { EitherField } from './fields/either.ts'
import type { EmailField } from './fields/email.ts'
import type { FileField } from './fields/file.ts'
import type { FlagField } from './fields/flag.ts'
import type { GroupField } from './fields/group.ts'
import type { HistoryField } from './fields/history.ts'
import type { ImageField } from './fields/image.ts'
import type { InstantField } from './fields/instant.ts'
import type { ListField } from './fields/list.ts'
import type { MapField } from './fields/map.ts'
import type { MarkdownField } from './fields/markdown.ts'
import type { NumberField } from './fields/number.ts'
import type { RefField } from './fields/ref.ts'
import type { ReverseField } from './fields/reverse.ts'
import type { TextField } from './fields/text.ts'
import type { TimeField } from './fields/time.ts'
import type { UrlField } from './fields/url.ts'
import type { ValidatorField } from './fields/validator.ts'
import type { VariantField } from './fields/variant.ts'

/** A field of any kind, told apart by `kind`. */
export type AnyField =
  | AnythingField
  | BlockField
  | ChoiceField
  | ColourField
  | DateField
  | DurationField
  | EitherField
  | EmailField
  | FileField
  | FlagField
  | GroupField
  | HistoryField
  | ImageField
  | InstantField
  | ListField
  | MapField
  | MarkdownField
  | NumberField
  | RefField
  | ReverseField
  | TextField
  | TimeField
  | UrlField
  | ValidatorField
  | VariantField
