import { createDiagnostic, type Diagnostic, type Place, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import type { AnyField } from '../schema/any-field.ts'
import type { Step } from '../schema/check-run.ts'
import { dottedPath } from '../schema/field-path.ts'
import type { BlockFields } from '../schema/kind.ts'
import { childrenOf } from '../schema/kinds.ts'
import { type CollectionModel, visitFields } from '../schema/model.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'
import { createLabelUses, type LabelUses, type Writing } from './label-uses.ts'

/** A field of labels. */
export interface LabelField {
  /** The path of the field, names joined by dots. */
  readonly name: string
  /** True for labels in a list. */
  readonly isInList: boolean
}

/** A label of an entry. Where it stands is asked for seldom, and labels are many. */
export interface Label {
  readonly field: LabelField
  readonly text: string
}

/** Lists the labels of an entry; the path of each is told beside it. */
export type LabelLister = (entry: Pick<LinkedEntry, 'data'>, onLabel?: (path: Entry['recordPath']) => void) => Label[]

/** Longer texts are no labels. */
const MOST_CHARACTERS = 40
/** Of more places of one label only the first are told. */
const MOST_PLACES = 4

/** True where two entries have the same labels in the same fields. */
export const areSameLabels = (one: readonly Label[], other: readonly Label[]): boolean =>
  one.length === other.length &&
  one.every(({ field, text }, at) => text === other[at]?.text && field.name === other[at]?.field.name)

/** Makes what lists the labels of an entry: texts that writers choose freely, one or many in a field. */
export function createLabelLister({ fields }: CollectionModel, blocks: BlockFields): LabelLister | undefined {
  const names = new Map<string, LabelField>()
  const lists = new Set<string>()
  visitFields(fields, (field, path) => {
    const name = path.filter((step) => step !== 'item').join('.')
    if (field.kind === 'text' && isFree(field)) names.set(name, { name, isInList: false })
    if (field.kind === 'list' && childrenOf(field).item?.kind === 'text') lists.add(name)
  })
  if (names.size === 0) return undefined
  for (const name of lists) if (names.has(name)) names.set(name, { name, isInList: true })
  const fieldAt = (path: readonly Step[]): LabelField | null => names.get(dottedPath(path, fields, blocks)) ?? null
  const root = createTextPlace([])
  return ({ data }, onLabel) => {
    const labels: Label[] = []
    // Paths are asked for where something is told of them, which is seldom.
    const path: Step[] | undefined = onLabel && []
    const visit = (value: unknown, place: TextPlace): void => {
      if (typeof value === 'string') {
        if (place.field === undefined) place.field = fieldAt(place.steps)
        if (place.field === null || !isLabel(value)) return
        labels.push({ field: place.field, text: value })
        if (path) onLabel?.([...path])
      } else if (Array.isArray(value)) {
        const item = placeWithin(place, 0)
        for (let index = 0; index < value.length; index++) visitWithin(index, value[index], item)
      } else if (typeof value === 'object' && value !== null)
        for (const key of Object.keys(value))
          visitWithin(key, (value as Record<string, unknown>)[key], placeWithin(place, key))
    }
    const visitWithin = (step: Step, inner: unknown, place: TextPlace): void => {
      path?.push(step)
      visit(inner, place)
      path?.pop()
    }
    visit(data ?? {}, root)
    return labels
  }
}

/** Where values stand in entries, all items of a list at one place: entries are many, and their places few. */
interface TextPlace {
  readonly steps: readonly Step[]
  /** The field of labels there, or null; undefined until the first text is found there. */
  field: LabelField | null | undefined
  readonly within: Map<Step, TextPlace>
}

const createTextPlace = (steps: readonly Step[]): TextPlace => ({ steps, field: undefined, within: new Map() })

function placeWithin({ steps, within }: TextPlace, step: Step): TextPlace {
  const known = within.get(step)
  if (known) return known
  const place = createTextPlace([...steps, step])
  within.set(step, place)
  return place
}

/** True for a short text of one line with a letter in it. */
const isLabel = (text: string): boolean => text.length <= MOST_CHARACTERS && !text.includes('\n') && hasLetter(text)
/** Most have one of ASCII, which is found in a fraction of the time. */
const hasLetter = (text: string): boolean => /[A-Za-z]/.test(text) || /\p{L}/u.test(text)

const isFree = ({ options }: AnyField): boolean => options.unique !== true && options.private !== true

/** Labels of one field that differ in nothing but their writing; ids where there is no field. */
export interface NearLabels {
  readonly field: string | undefined
  readonly writings: readonly Writing[]
}

/** Finds such labels among those of so many entries of a collection. */
export function findNearLabels(count: number, labelsOf: (row: number) => readonly Label[]): NearLabels[] {
  const fields = new Map<string, { readonly isInList: boolean; readonly uses: LabelUses }>()
  const usesOf = ({ name, isInList }: LabelField): LabelUses => {
    const known = fields.get(name)
    if (known) return known.uses
    const uses = createLabelUses(count)
    fields.set(name, { isInList, uses })
    return uses
  }
  const hashes: number[] = []
  for (let row = 0; row < count; row++)
    for (const { field, text } of labelsOf(row)) hashes.push(usesOf(field).note(text))
  let at = 0
  for (let row = 0; row < count; row++)
    for (const { field, text } of labelsOf(row)) usesOf(field).add(text, hashes[at++] as number, row)
  return [...fields].flatMap(([name, { isInList, uses: own }]) => {
    // A text alone in its field is a label where it is used again.
    if (!isInList && !own.isAnyReused()) return []
    return own
      .alike()
      .filter((writings) => isInList || writings.some((one) => one.count > 1))
      .map((writings) => ({ field: name, writings }))
  })
}

/** Finds ids that differ in nothing but their writing, in a collection whose entries references create. */
export function findNearIds(ids: readonly string[]): NearLabels[] {
  const uses = createLabelUses(ids.length)
  const hashes = ids.map(uses.note)
  for (const [row, id] of ids.entries()) uses.add(id, hashes[row] as number, row)
  return uses.alike().map((writings) => ({ field: undefined, writings }))
}

/** Describes such labels. The rarest is most likely wrong, so that the problem stands there. */
export function describeNearLabels(
  near: readonly NearLabels[],
  { entries, list }: { readonly entries: readonly LinkedEntry[]; readonly list: LabelLister | undefined },
): Diagnostic[] {
  const ordered = near.map(({ field, writings }) => ({
    field,
    writings: writings.toSorted((one, other) => one.count - other.count || (one.text < other.text ? -1 : 1)),
  }))
  const told = ordered.flatMap(({ field, writings }) =>
    writings
      .slice(0, MOST_PLACES + 1)
      .map((writing) => ({ field, writing, entry: entries[writing.row] as LinkedEntry })),
  )
  const places = new Map<Writing, Place>()
  // File by file: the places of a large one are not held while others are read.
  for (const { field, writing, entry } of told.toSorted((one, other) => compareFiles(one.entry, other.entry))) {
    const paths: Entry['recordPath'][] = []
    const labels = field === undefined ? [] : (list?.(entry, (path) => paths.push(path)) ?? [])
    const at = labels.findIndex((one) => one.text === writing.text && one.field.name === field)
    places.set(writing, entry.locate(paths[at] ?? []))
  }
  return ordered.map(({ field, writings }) => {
    const [first, ...others] = writings.slice(0, MOST_PLACES + 1).map((one) => places.get(one) as Place)
    const related = others.map((place): RelatedPlace => ({ ...place, note: 'other-writing' }))
    const labels = writings.toReversed().map(({ text, count }) => ({ text, count }))
    return createDiagnostic('label-near', first as Place, { labels }, { related, field })
  })
}

const compareFiles = (one: Entry, other: Entry): number =>
  one.source.file < other.source.file ? -1 : one.source.file > other.source.file ? 1 : 0
