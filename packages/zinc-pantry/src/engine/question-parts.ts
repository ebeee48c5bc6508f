import { appendAll } from '../diagnostics/append-all.ts'
import type { ItemSelection } from '../query/place.ts'
import type { Shape } from '../query/shape.ts'
import { readConditionOn } from '../query/text-form.ts'
import { type FieldScope, type NamedField, readFieldNames, readSortKeys } from '../query/text-form-fields.ts'
import { type Part, splitOutside } from '../query/text-form-names.ts'
import type { TextFormProblem } from '../query/text-form-problem.ts'

/** A column of an answer: a field, or of a list what is taken of its items. */
export interface AskedColumn extends NamedField {
  readonly items?: ChosenItems
}

/** The items of a list, or the entries that a list refers to: which, in which order, and which of their fields. */
export interface ChosenItems {
  readonly select: ItemSelection
  readonly fields: readonly NamedField[]
}

/** A field whose values are counted, and the field that each value is shown with. */
export interface AskedFacet extends NamedField {
  readonly label?: NamedField
}

type Read<Result> = { readonly found: readonly Result[] } | { readonly problem: TextFormProblem }

/**
 * Reads columns with commas between them: names of fields, `*` for those that are usual, and of lists what is taken of their items:
 *
 * `*,region.name,stages.each(time.up,measured; where children; sort -measured; limit 3)`
 */
export const readColumns = (
  source: string,
  { usual, ...scope }: FieldScope & { readonly usual: readonly NamedField[] },
): Read<AskedColumn> =>
  readParts(source, (part) => {
    if (part.text === '*') return { found: usual }
    const each = /^(.+)\.each\((.*)\)$/s.exec(part.text)
    if (!each) return readOne(part, scope)
    const { 1: list = '', 2: inner = '' } = each
    return readItems(part, { list, inner }, scope)
  })

/** Reads facets with commas between them, of ids with what they are shown with: `grade,region as region.name`. */
export const readFacets = (source: string, scope: FieldScope): Read<AskedFacet> =>
  readParts(source, (part) => {
    const whole = readOne(part, scope)
    const between = /(?<=\S)\s+as\s+(?=\S)/.exec(part.text)
    // A field may have such a name.
    if (!between || 'found' in whole) return whole
    const by = part.text.slice(0, between.index)
    const name = part.text.slice(by.length + between[0].length)
    const counted = readOne({ ...part, text: by }, scope)
    if ('problem' in counted) return counted
    const start = part.start + by.length + between[0].length
    const label = readOne({ text: name, start }, scope)
    if ('problem' in label) return label
    const [one, other] = [counted.found[0] as NamedField, label.found[0] as NamedField]
    const isBehind = one.path.every((step, at) => other.path[at] === step) && other.path.length > one.path.length
    if (targetOf(one.shape) === undefined || !isBehind)
      return wrong(`${name} is no field behind the reference ${by}`, { text: name, start }, AS_HELP)
    return { found: [{ ...one, label: other }] }
  })

const AS_HELP = 'Write a reference and what stands behind it, such as region as region.name'

/** The reference that values of a shape are. */
export const targetOf = (shape: Shape | undefined): Shape | undefined =>
  shape?.kind === 'list' ? targetOf(shape.item) : shape?.kind === 'ref' ? shape : undefined

function readItems(
  part: Part,
  { list, inner }: { readonly list: string; readonly inner: string },
  scope: FieldScope,
): Read<AskedColumn> {
  const holder = readOne({ ...part, text: list }, scope)
  if ('problem' in holder) return holder
  const field = holder.found[0] as NamedField
  const shape = field.shape.kind === 'list' ? field.shape.item : undefined
  if (!shape) return wrong(`${list} is no list`, { ...part, text: list })
  const own: FieldScope = { ...scope, shape }
  const base = part.start + list.length + '.each('.length
  let fields: readonly NamedField[] = []
  const select: { -readonly [Key in keyof ItemSelection]: ItemSelection[Key] } = {
    where: undefined,
    sort: [],
    limit: undefined,
  }
  for (const clause of splitParts(inner, ';')) {
    const [, word = '', space = ''] = /^(where|sort|limit)(\s+)/.exec(clause.text) ?? []
    const text = clause.text.slice(word.length + space.length)
    const at: Part = { text, start: base + clause.start + word.length + space.length }
    if (word === 'where') {
      const read = readConditionOn(shape, text, scope)
      if ('problem' in read) return shifted(read.problem, at.start)
      select.where = read.condition
    } else if (word === 'sort') {
      const read = readSortKeys(text, own)
      if ('problem' in read) return shifted(read.problem, at.start)
      select.sort = read.keys
    } else if (word === 'limit') {
      if (!/^\d+$/.test(text)) return wrong(`limit takes a whole number, found ${text}`, at)
      select.limit = Number(text)
    } else {
      const read = readFieldNames(text, own)
      if ('problem' in read) return shifted(read.problem, at.start)
      fields = read.fields
    }
  }
  const [only] = fields
  const name = only && fields.length === 1 ? `${list}.${only.name}` : list
  return { found: [{ ...field, name, items: { select, fields } }] }
}

function readOne({ text, start }: Part, scope: FieldScope): Read<NamedField> {
  const read = readFieldNames(text, scope)
  return 'problem' in read ? shifted(read.problem, start) : { found: read.fields }
}

const shifted = (problem: TextFormProblem, by: number) => ({
  problem: { ...problem, start: problem.start + by, end: problem.end + by },
})

const wrong = (message: string, { text, start }: Part, help?: string) => ({
  problem: { message, start, end: start + Math.max(1, text.length), ...(help ? { help } : {}) },
})

function readParts<Result>(source: string, read: (part: Part) => Read<Result>): Read<Result> {
  const found: Result[] = []
  // Names of fields may hold parentheses.
  for (const part of source.includes('.each(') ? splitParts(source, ',') : splitOutside(source, ',')) {
    const one = read(part)
    if ('problem' in one) return one
    appendAll(found, one.found)
  }
  return { found }
}

/** Cuts a text at a separator that stands neither in quotes nor in parentheses; parts of spaces alone are left out. */
function splitParts(source: string, separator: string): readonly Part[] {
  const parts: Part[] = []
  let start = 0
  let depth = 0
  const close = (end: number): void => {
    const text = source.slice(start, end).trim()
    if (text !== '') parts.push({ text, start: source.indexOf(text, start) })
    start = end + 1
  }
  // A quote opens where a name or a value may start.
  for (const { 0: piece, index } of source.matchAll(/(?<=^|[\s,.;(=<>-])(["'])(?:\\.|(?!\1)[^\\])*\1|[\s\S]/gu)) {
    if (piece === '(') depth++
    else if (piece === ')') depth--
    else if (piece === separator && depth === 0) close(index)
  }
  close(source.length)
  return parts
}
