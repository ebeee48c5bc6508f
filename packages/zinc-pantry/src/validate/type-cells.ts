import { setOwn } from '../diagnostics/own-key.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'

/** How cells are taken apart. */
export interface CellForm {
  readonly listSeparator: string
}

/** Gives the texts of a row the types that the fields want. What does not fit stays text, and the check says so. */
export function typeCells(record: unknown, fields: Fields, form: CellForm): unknown {
  if (typeof record !== 'object' || record === null) return record
  const known = mergedFields(fields)
  const typed: Record<string, unknown> = {}
  for (const [name, cell] of Object.entries(record)) {
    const field = Object.hasOwn(known, name) ? known[name] : undefined
    setOwn(typed, name, field ? typeCell(cell, field, form) : cell)
  }
  // Nobody can write an empty group into cells: where all in it may be absent, it is there and empty.
  for (const [name, field] of Object.entries(known))
    if (!Object.hasOwn(typed, name) && isEmptyGroup(field)) setOwn(typed, name, typeCells({}, fieldsOf(field), form))
  return typed
}

const fieldsOf = (field: AnyField): Fields => childrenOf(field).fields ?? {}

/** True for a group that must be there, while nothing in it must. */
const isEmptyGroup = (field: AnyField): boolean =>
  childrenOf(field).fields !== undefined &&
  field.options.optional !== true &&
  Object.values(mergedFields(fieldsOf(field))).every(mayBeAbsent)

const mayBeAbsent = (field: AnyField): boolean =>
  field.options.optional === true || field.options.default !== undefined || isEmptyGroup(field)

function typeCell(cell: unknown, field: AnyField, form: CellForm): unknown {
  const { fields } = childrenOf(field)
  if (fields) return typeCells(cell, fields, form)
  if (typeof cell !== 'string') return cell
  const { readCell } = kindOf(field)
  return readCell ? readCell(cell, field, { ...form, inner: (text, item) => typeCell(text, item, form) }) : cell.trim()
}
