import type { AnyField } from './any-field.ts'
import { anythingKind } from './fields/anything.ts'
import { blockKind } from './fields/block.ts'
import { choiceKind } from './fields/choice.ts'
import { colourKind } from './fields/colour.ts'
import { dateKind } from './fields/date.ts'
import { durationKind } from './fields/duration.ts'
import { eitherKind } from './fields/either.ts'
import { emailKind } from './fields/email.ts'
import { fileKind } from './fields/file.ts'
import { flagKind } from './fields/flag.ts'
import { groupKind } from './fields/group.ts'
import { historyKind } from './fields/history.ts'
import { imageKind } from './fields/image.ts'
import { instantKind } from './fields/instant.ts'
import { listKind } from './fields/list.ts'
import { mapKind } from './fields/map.ts'
import { markdownKind } from './fields/markdown.ts'
import { intKind, numberFieldKind } from './fields/number.ts'
import { refKind } from './fields/ref.ts'
import { reverseKind } from './fields/reverse.ts'
import { textKind } from './fields/text.ts'
import { timeKind } from './fields/time.ts'
import { urlKind } from './fields/url.ts'
import { validatorKind } from './fields/validator.ts'
import { variantKind } from './fields/variant.ts'
import type { Children, Kind, Leading } from './kind.ts'

/** All kinds of fields by name. */
export const kinds: { readonly [Name in AnyField['kind']]: Kind<Extract<AnyField, { readonly kind: Name }>> } = {
  text: textKind,
  markdown: markdownKind,
  int: intKind,
  number: numberFieldKind,
  flag: flagKind,
  date: dateKind,
  time: timeKind,
  instant: instantKind,
  duration: durationKind,
  choice: choiceKind,
  url: urlKind,
  email: emailKind,
  colour: colourKind,
  image: imageKind,
  file: fileKind,
  ref: refKind,
  reverse: reverseKind,
  history: historyKind,
  either: eitherKind,
  list: listKind,
  group: groupKind,
  block: blockKind,
  variant: variantKind,
  map: mapKind,
  anything: anythingKind,
  validator: validatorKind,
}

/** True for a value made by one of the field constructors. */
export const isField = (value: unknown): value is AnyField =>
  typeof value === 'object' && value !== null && 'kind' in value && Object.hasOwn(kinds, String(value.kind))

/** The kind of a field. */
export const kindOf = (field: AnyField): Kind => kinds[field.kind] as Kind

/** The value that a field expects, in words. */
export const expectedOf = (field: AnyField): string => kindOf(field).expected(field, expectedOf)

/** The fields inside of a field. */
export const childrenOf = (field: AnyField): Children => kindOf(field).children?.(field) ?? NOTHING

/** Where the values of a field lead; undefined where they lead nowhere. */
export const leadingOf = (field: AnyField): Leading | undefined => kindOf(field).leading?.(field)

const NOTHING: Children = {}
