import { addTo } from '../diagnostics/add-to.ts'
import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import type { AnyField } from '../schema/any-field.ts'
import { dottedPath } from '../schema/field-path.ts'
import type { BlockFields } from '../schema/kind.ts'
import { childrenOf } from '../schema/kinds.ts'
import { type CollectionModel, visitFields } from '../schema/model.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

/** A label of an entry, and where it stands. */
export interface Label {
  /** The path of its field, names joined by dots. */
  readonly field: string
  /** True for a label in a list. */
  readonly isInList: boolean
  readonly text: string
  readonly path: Entry['recordPath']
}

/** Longer texts are no labels. */
const MOST_CHARACTERS = 40
/** Of more places of one label only the first are told. */
const MOST_PLACES = 4

/** True where two entries have the same labels in the same places. */
export const areSameLabels = (one: readonly Label[], other: readonly Label[]): boolean =>
  one.length === other.length &&
  one.every(({ text, path }, at) => text === other[at]?.text && path.join('.') === other[at]?.path.join('.'))

/** Makes what lists the labels of an entry: texts that writers choose freely, one or many in a field. */
export function createLabelLister(
  { fields }: CollectionModel,
  blocks: BlockFields,
): ((entry: LinkedEntry) => readonly Label[]) | undefined {
  const paths = new Set<string>()
  const lists = new Set<string>()
  visitFields(fields, (field, path) => {
    const name = path.filter((step) => step !== 'item').join('.')
    if (field.kind === 'text' && isFree(field)) paths.add(name)
    if (field.kind === 'list' && childrenOf(field).item?.kind === 'text') lists.add(name)
  })
  if (paths.size === 0) return undefined
  const root = createPlace()
  return ({ data }) => {
    const labels: Label[] = []
    const path: (string | number)[] = []
    const visit = (value: unknown, place: Place): void => {
      if (typeof value === 'string') {
        place.field ??= findField(path)
        if (place.field !== '' && isLabel(value))
          labels.push({ field: place.field, isInList: lists.has(place.field), text: value, path: [...path] })
      } else if (Array.isArray(value)) {
        const item = placeWithin(place, '')
        for (const [index, inner] of value.entries()) visitWithin(index, inner, item)
      } else if (typeof value === 'object' && value !== null)
        for (const key of Object.keys(value))
          visitWithin(key, (value as Record<string, unknown>)[key], placeWithin(place, key))
    }
    const visitWithin = (step: string | number, inner: unknown, place: Place): void => {
      path.push(step)
      visit(inner, place)
      path.pop()
    }
    visit(data ?? {}, root)
    return labels
  }

  function findField(path: readonly (string | number)[]): string {
    const field = dottedPath(path, fields, blocks)
    return paths.has(field) ? field : ''
  }
}

/** Where values stand in entries, the index in a list left out: entries are many, and their places few. */
interface Place {
  /** The field of labels there, empty where there is none; undefined until the first text is found there. */
  field: string | undefined
  readonly within: Map<string, Place>
}

const createPlace = (): Place => ({ field: undefined, within: new Map() })

function placeWithin({ within }: Place, key: string): Place {
  const known = within.get(key)
  if (known) return known
  const place = createPlace()
  within.set(key, place)
  return place
}

/** True for a short text of one line with a letter in it. */
const isLabel = (text: string): boolean => text.length <= MOST_CHARACTERS && !text.includes('\n') && /\p{L}/u.test(text)

const isFree = ({ options }: AnyField): boolean => options.unique !== true && options.private !== true

/** A label as it is compared: without case, marks, spaces, hyphens, and a plural `s`. */
export const plainLabel = (text: string): string =>
  (MARKABLE.test(text) ? text.normalize('NFD').replace(/\p{M}+/gu, '') : text)
    .toLowerCase()
    .replace(/[\s_-]+/g, '')
    .replace(/(?<=..[^s])s$/, '')

/** Letters that may have marks. */
const MARKABLE = /[^\0-\x7f]/

/** A label where it is used: the number of an entry, and the path in it. */
interface Use {
  readonly row: number
  readonly path: Entry['recordPath']
}

/** The ways in which one label is written, with their uses. */
type Writings = readonly (readonly [text: string, uses: readonly Use[]])[]

/** Labels of one field that differ in nothing but their writing; ids where there is no field. */
export interface NearLabels {
  readonly field: string | undefined
  readonly writings: Writings
}

/** Finds such labels among those of the entries of a collection. */
export function findNearLabels(labelsOf: readonly (readonly Label[])[]): NearLabels[] {
  const fields = new Map<string, { isInList: boolean; uses: Map<string, Use[]> }>()
  for (const [row, labels] of labelsOf.entries())
    for (const { field, isInList, text, path } of labels) {
      const own = fields.get(field) ?? { isInList, uses: new Map<string, Use[]>() }
      fields.set(field, own)
      addTo(own.uses, text, { row, path })
    }
  return [...fields].flatMap(([field, { isInList, uses }]) =>
    groupAlike(uses)
      // A text alone in its field is a label where it is used again.
      .filter((writings) => isInList || writings.some(([, all]) => all.length > 1))
      .map((writings) => ({ field, writings })),
  )
}

/** Finds ids that differ in nothing but their writing, in a collection whose entries references create. */
export function findNearIds(ids: readonly string[]): NearLabels[] {
  const uses = new Map<string, Use[]>()
  for (const [row, id] of ids.entries()) addTo(uses, id, { row, path: [] })
  return groupAlike(uses).map((writings) => ({ field: undefined, writings }))
}

function groupAlike(uses: ReadonlyMap<string, Use[]>): Writings[] {
  const alike = new Map<string, [string, Use[]][]>()
  for (const one of uses) addTo(alike, plainLabel(one[0]), one)
  return [...alike.values()].filter((writings) => writings.length > 1)
}

/** The rarest is most likely wrong, so that the problem stands there. */
export function describeNearLabels({ field, writings }: NearLabels, entries: readonly Entry[]): Diagnostic {
  const ordered = writings.toSorted(([a, one], [b, other]) => one.length - other.length || (a < b ? -1 : 1))
  const placeOf = ({ row, path }: Use) => (entries[row] as Entry).locate(path)
  const [[, [first]], ...others] = ordered as unknown as [[string, [Use]], ...[string, [Use]][]]
  const related = others
    .slice(0, MOST_PLACES)
    .map(([, [use]]): RelatedPlace => ({ ...placeOf(use), note: 'other-writing' }))
  const labels = ordered.toReversed().map(([text, all]) => ({ text, count: all.length }))
  return createDiagnostic('label-near', placeOf(first), { labels }, { related, field })
}
