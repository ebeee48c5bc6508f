import { setOwn } from '../diagnostics/own-key.ts'
import type { Field, Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'

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
    if (!Object.hasOwn(typed, name) && isEmptyGroup(field)) setOwn(typed, name, typeCells({}, field.fields ?? {}, form))
  return typed
}

/** True for a group that must be there, while nothing in it must. */
const isEmptyGroup = ({ kind, options, fields = {} }: Field): boolean =>
  kind === 'group' && options.optional !== true && Object.values(mergedFields(fields)).every(mayBeAbsent)

const mayBeAbsent = (field: Field): boolean =>
  field.options.optional === true || field.options.default !== undefined || isEmptyGroup(field)

const NUMBER = /^[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?$/

function typeCell(cell: unknown, field: Field, form: CellForm): unknown {
  if (field.kind === 'group') return typeCells(cell, field.fields ?? {}, form)
  if (typeof cell !== 'string') return cell
  const text = cell.trim()
  switch (field.kind) {
    case 'int':
    case 'number':
      return NUMBER.test(text) ? Number(text) : cell
    case 'flag':
      if (/^(?:true|false)$/i.test(text)) return text.toLowerCase() === 'true'
      return cell
    case 'list':
      return text.split(form.listSeparator).map((item) => typeCell(item.trim(), field.item as Field, form))
    case 'text':
    case 'markdown':
      return cell
    default:
      return text
  }
}
