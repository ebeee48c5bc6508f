import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Fields } from '../schema/field.ts'
import { mergedFields } from '../schema/fields/variant.ts'
import { childrenOf, kindOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import { writtenKey } from '../schema/written-key.ts'

/** What a heading stands for: the id, a field by its names, or nothing. */
export type Meaning =
  | { readonly kind: 'id' }
  | { readonly kind: 'field'; readonly path: readonly string[] }
  /** It is left out, and why. */
  | { readonly kind: 'nothing'; readonly why: 'asked' | 'computed' }

/** What headings stand for, and those that stand for nothing that is known. */
export interface HeadingMap {
  readonly meanings: ReadonlyMap<string, Meaning>
  readonly unknown: readonly { readonly heading: string; readonly suggestion: string | undefined }[]
}

/** Finds out what headings stand for: as they are asked to, else by their names, however those are written. */
export function mapHeadings(
  collection: CollectionModel,
  headings: readonly string[],
  asked: ReadonlyMap<string, string>,
): HeadingMap {
  const paths = pathsOf(allFields(collection))
  const byForm = formsOf(collection, paths)
  const meanings = new Map<string, Meaning>()
  const unknown: { heading: string; suggestion: string | undefined }[] = []
  for (const heading of headings) {
    const wanted = asked.get(heading) ?? heading
    if (wanted === '') {
      meanings.set(heading, { kind: 'nothing', why: 'asked' })
      continue
    }
    const known = paths.get(wanted) ?? byForm.get(plainForm(wanted)) ?? byForm.get(withoutDots(wanted))
    if (known)
      meanings.set(
        heading,
        known.isComputed ? { kind: 'nothing', why: 'computed' } : { kind: 'field', path: known.path },
      )
    else if (plainForm(wanted) === 'id') meanings.set(heading, { kind: 'id' })
    else if (['slug', 'locale'].includes(plainForm(wanted))) meanings.set(heading, { kind: 'nothing', why: 'computed' })
    else unknown.push({ heading, suggestion: suggestNearest(wanted, [...paths.keys()]) })
  }
  return { meanings, unknown }
}

const withoutDots = (name: string): string => plainForm(name).replaceAll('.', '')

/** Fields by all that people may call them: their names, their last names where there is one of such, with that of the entry in front. */
function formsOf(
  { name: collection, typeName }: CollectionModel,
  paths: ReadonlyMap<string, KnownPath>,
): ReadonlyMap<string, KnownPath> {
  const forms = new Map<string, KnownPath>()
  const lasts = new Map<string, KnownPath | undefined>()
  for (const [name, one] of paths) {
    const last = plainForm(one.path.at(-1) ?? '')
    const other = lasts.get(last)
    lasts.set(last, lasts.has(last) && other?.path.join() !== one.path.join() ? undefined : one)
    for (const front of [collection, collection.replace(/s$/, ''), typeName])
      forms.set(plainForm(front) + withoutDots(name), one)
    forms.set(withoutDots(name), one)
  }
  for (const [last, one] of lasts) if (one && !forms.has(last)) forms.set(last, one)
  for (const [name, one] of paths) forms.set(plainForm(name), one)
  return forms
}

/** True for a heading whose groups are those of a field, or of no field that is known. */
export function createGroupTest(collection: CollectionModel): (heading: string) => boolean {
  const paths = pathsOf(allFields(collection))
  const groups = new Set([...paths].flatMap(([name, { isGroup }]) => [...(isGroup ? [plainForm(name)] : [])]))
  const known = new Set([...paths.keys()].map(plainForm))
  return (heading) => groups.has(plainForm(heading)) || !known.has(plainForm(heading))
}

/** Names as people write them anyhow: `Beds (m)`, `trail_name` and `trailName` alike. */
const plainForm = (name: string): string => name.toLowerCase().replaceAll(/[^\p{L}\p{N}.]+/gu, '')

interface KnownPath {
  readonly path: readonly string[]
  readonly isComputed: boolean
  readonly isGroup: boolean
}

/** All fields by their dotted names, and by the keys that they are written under; groups are entered. */
function pathsOf(fields: Fields, above: readonly string[] = [], isComputed = false): ReadonlyMap<string, KnownPath> {
  const found = new Map<string, KnownPath>()
  for (const [name, field] of Object.entries(mergedFields(fields))) {
    const path = [...above, name]
    const { fields: inner } = childrenOf(field)
    const own = { path, isComputed: isComputed || kindOf(field).computed === true, isGroup: inner !== undefined }
    found.set(path.join('.'), own)
    found.set([...above, writtenKey(name, field)].join('.'), own)
    if (inner) for (const [dotted, one] of pathsOf(inner, path, own.isComputed)) found.set(dotted, one)
  }
  return found
}
