import { isGroup, setOwn } from '../diagnostics/own-key.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import type { BlockFields } from '../schema/kind.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { byWrittenKey, isRest } from '../schema/written-key.ts'

/** How cells are taken apart. */
export interface CellForm {
  readonly listSeparator: string
  /** True where spaces around them are left out. */
  readonly trim: boolean
  readonly blocks: BlockFields
}

/**
 * Gives the texts of a record the types that the fields want, and leaves empty ones out. What does not fit stays text, and
 * the check says so.
 */
export function typeCells(record: unknown, fields: Fields, form: CellForm): unknown {
  if (!isGroup(record)) return record
  const { known, rest, emptyGroups } = columnsOf(fields)
  const typed: Record<string, unknown> = {}
  for (const [key, cell] of Object.entries(record)) {
    if (isEmpty(cell, form)) continue
    const field = known.get(key) ?? rest
    setOwn(typed, key, field ? typeCell(cell, field, form) : cell)
  }
  // Nobody can write an empty group into cells: where all in it may be absent, it is there and empty.
  for (const [key, field] of emptyGroups)
    if (!Object.hasOwn(typed, key)) setOwn(typed, key, typeCells({}, fieldsOf(field), form))
  return typed
}

/** What is known of fields as columns. */
interface Columns {
  readonly known: ReadonlyMap<string, AnyField>
  /** The field of the values that have no column of their own. */
  readonly rest: AnyField | undefined
  readonly emptyGroups: readonly (readonly [key: string, field: AnyField])[]
}

/** Made once of fields that never change: it is asked for each record. */
function columnsOf(fields: Fields): Columns {
  const made = columns.get(fields)
  if (made) return made
  const merged = mergedFields(fields)
  const known = byWrittenKey(merged)
  const emptyGroups = [...known].filter(([, field]) => isEmptyGroup(field))
  const own = { known, rest: Object.values(merged).find(isRest)?.item, emptyGroups }
  columns.set(fields, own)
  return own
}

const columns = new WeakMap<Fields, Columns>()

const isEmpty = (cell: unknown, { trim }: CellForm): boolean =>
  typeof cell === 'string' && (trim ? cell.trim() : cell) === ''

const fieldsOf = (field: AnyField): Fields => childrenOf(field).fields ?? {}

/** True for a group that must be there, while nothing in it must. */
const isEmptyGroup = (field: AnyField): boolean =>
  childrenOf(field).fields !== undefined &&
  field.options.optional !== true &&
  Object.values(mergedFields(fieldsOf(field))).every(mayBeAbsent)

const mayBeAbsent = (field: AnyField): boolean =>
  field.options.optional === true || field.options.default !== undefined || isEmptyGroup(field)

function typeCell(cell: unknown, field: AnyField, form: CellForm): unknown {
  const { item, fields, blocks, alternatives } = childrenOf(field)
  if (alternatives && typeof cell !== 'string') {
    const holder = alternatives.find((one) => (Array.isArray(cell) ? childrenOf(one).item : childrenOf(one).fields))
    return holder ? typeCell(cell, holder, form) : cell
  }
  if (fields) return typeCells(cell, fields, form)
  if (Array.isArray(cell)) return item ? cell.map((one) => typeCell(one, item, form)) : cell
  if (isGroup(cell)) {
    if (blocks) return typeCells(cell, form.blocks.get(String(cell[blocks.key])) ?? {}, form)
    return item ? typeValues(cell, item, form) : cell
  }
  if (typeof cell !== 'string') return cell
  const { readCell } = kindOf(field)
  const text = form.trim ? cell.trim() : cell
  if (!readCell) return text
  const { listSeparator } = form
  return readCell(text, field, { listSeparator, inner: (inner, of) => typeCell(inner, of, form) })
}

/** The values of a map. */
function typeValues(values: Readonly<Record<string, unknown>>, item: AnyField, form: CellForm): unknown {
  const typed: Record<string, unknown> = {}
  for (const [key, value] of Object.entries(values))
    if (!isEmpty(value, form)) setOwn(typed, key, typeCell(value, item, form))
  return typed
}
