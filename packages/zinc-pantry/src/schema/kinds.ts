import type { Field, Kind } from './field.ts'
import { choiceKind } from './fields/choice.ts'
import { dateKind } from './fields/date.ts'
import { flagKind } from './fields/flag.ts'
import { groupKind } from './fields/group.ts'
import { listKind } from './fields/list.ts'
import { intKind, numberFieldKind } from './fields/number.ts'
import { refKind } from './fields/ref.ts'
import { textKind } from './fields/text.ts'
import { urlKind } from './fields/url.ts'

const kinds: ReadonlyMap<string, Kind> = new Map(
  Object.entries({
    text: textKind,
    int: intKind,
    number: numberFieldKind,
    flag: flagKind,
    date: dateKind,
    choice: choiceKind,
    url: urlKind,
    list: listKind,
    group: groupKind,
    ref: refKind,
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
