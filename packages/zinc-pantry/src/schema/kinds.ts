import type { Field, Kind } from './field.ts'
import { anythingKind } from './fields/anything.ts'
import { blockKind } from './fields/block.ts'
import { choiceKind } from './fields/choice.ts'
import { colourKind } from './fields/colour.ts'
import { dateKind } from './fields/date.ts'
import { durationKind } from './fields/duration.ts'
import { emailKind } from './fields/email.ts'
import { fileKind } from './fields/file.ts'
import { flagKind } from './fields/flag.ts'
import { groupKind } from './fields/group.ts'
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

/** All kinds of fields by name. */
export const kinds: ReadonlyMap<string, Kind> = new Map(
  Object.entries({
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
    list: listKind,
    group: groupKind,
    block: blockKind,
    variant: variantKind,
    map: mapKind,
    anything: anythingKind,
    validator: validatorKind,
  }),
)

/** True for a value made by one of the field constructors. */
export const isField = (value: unknown): value is Field =>
  typeof value === 'object' && value !== null && 'kind' in value && kinds.has(String(value.kind))

/** The kind of a field. Fields come from our constructors, so that a kind always exists. */
export function kindOf(field: Field): Kind {
  const kind = kinds.get(field.kind)
  if (!kind) throw new Error(`There is no field kind ${field.kind}`)
  return kind
}
