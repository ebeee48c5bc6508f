import type { DerivedField, SiteView } from '../schema/computation.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'

/** An index of the entries of one collection, by the keys that references compare with. */
export interface Targets {
  /** The id of the entry whose id, slug or field is the text. */
  find(by: string, text: string): string | undefined
  /** Every text that leads somewhere. */
  keys(by: string): ReadonlyMap<string, string>
  add(entry: Entry): void
}

/**
 * Indexes entries by whatever references compare with; each index is made when it is first needed. A derived field is computed
 * for it from what the entry itself says: which entries there are is not known before references are resolved.
 */
export function createTargets(entries: readonly Entry[], { derived }: Pick<CollectionModel, 'derived'>): Targets {
  const all = [...entries]
  const indexes = new Map<string, Map<string, string>>()
  const indexOf = (by: string): Map<string, string> => {
    const known = indexes.get(by)
    if (known) return known
    const index = new Map<string, string>()
    for (const entry of all) enter(index, entry, by)
    indexes.set(by, index)
    return index
  }
  const enter = (index: Map<string, string>, entry: Entry, by: string): void => {
    const key = keyOf(entry, by, derived)
    if (key !== undefined && !index.has(key)) index.set(key, entry.id)
  }
  return {
    find: (by, text) => indexOf(by).get(text),
    keys: indexOf,
    add(entry) {
      all.push(entry)
      for (const [by, index] of indexes) enter(index, entry, by)
    },
  }
}

/** The text of an entry that references by its id, its slug or a field are compared with. */
export function keyOf(entry: Entry, by: string, derived: CollectionModel['derived'] = {}): string | undefined {
  if (by === 'id') return entry.id
  if (by === 'slug') return entry.slug
  const { data } = entry
  if (!data) return undefined
  const value = Object.hasOwn(data, by) ? data[by] : Object.hasOwn(derived, by) ? deriveAlone(entry, derived[by]) : null
  return value === undefined || value === null ? undefined : String(value)
}

/** The value of a derived field by its own entry only; what fails is told where it is computed for itself. */
function deriveAlone({ id, slug, collection, source, data }: Entry, field: DerivedField | undefined): unknown {
  try {
    return field?.from(Object.freeze({ id, slug, collection, source, ...data }) as never, NO_SITE)
  } catch {
    return null
  }
}

const refuse = (): never => {
  throw new Error('references compare with this field, so that it is computed before there are other entries')
}
const NO_SITE: SiteView = { entry: refuse, entries: refuse }
