import type { Guess, SeenRecord } from './guess.ts'

/** The records of a collection to be, and what names them. */
export interface RecordGroup {
  readonly name: string
  readonly records: readonly SeenRecord[]
  readonly ids: readonly string[]
}

/** Texts of a field that may name entries of a collection. */
export interface NamingTexts {
  readonly collection: string
  readonly key: string
  readonly values: readonly string[]
}

/** What texts may name. */
interface Target {
  readonly collection: string
  /** The key whose values they are; `id` for ids. */
  readonly by: string
  readonly values: ReadonlySet<string>
}

/** Fewer different texts than that may be there by chance. */
const FEWEST = 3
/** So many of the different texts have to be there: fewer where the names of field and collection are alike. */
const SHARE = 0.9
const SHARE_WITH_NAME = 0.6

/** Makes what finds the collection that texts lead to, by how many of them are ids or labels there. */
export function findTargets(groups: readonly RecordGroup[]): (texts: NamingTexts) => Guess | undefined {
  const targets = groups.flatMap(targetsIn)
  return ({ collection, key, values }) => {
    const distinct = [...new Set(values)]
    const found = targets
      .filter((target) => !(target.collection === collection && target.by === key))
      .map((target) => {
        const hits = distinct.filter((value) => target.values.has(value)).length
        // A field with the name of its own collection is most likely its label.
        const isNamed = target.collection !== collection && areNamesAlike(key, target.collection)
        const share = hits / distinct.length
        const fits = isNamed ? share >= SHARE_WITH_NAME : share >= SHARE && distinct.length >= FEWEST
        return { target, hits, fits, score: share + (isNamed ? 1 : 0) + (target.by === 'id' ? 0.5 : 0) }
      })
      .filter(({ fits }) => fits)
      .sort((one, other) => other.score - one.score)
    const [best] = found
    if (!best || distinct.length === 0) return undefined
    const { target, hits } = best
    return {
      kind: 'ref',
      words: [target.collection],
      ...(target.by === 'id' ? {} : { options: { by: target.by } }),
      why: `${hits} of ${distinct.length} different found in ${target.collection}`,
    }
  }
}

const LABELS = ['title', 'name', 'label']

function targetsIn({ name, records, ids }: RecordGroup): readonly Target[] {
  const isNumbered = ids.every((id) => /^\d+$/.test(id))
  const own = isNumbered ? [] : [{ collection: name, by: 'id', values: new Set(ids) }]
  const labels = LABELS.flatMap((by): Target[] => {
    const values = records.flatMap(({ value }) => (typeof value[by] === 'string' ? [value[by]] : []))
    const distinct = new Set(values)
    return values.length === records.length && distinct.size === values.length
      ? [{ collection: name, by, values: distinct }]
      : []
  })
  return [...own, ...labels]
}

/** True where one name is the other, or its plural: author and authors, reviewedBy is none. */
function areNamesAlike(key: string, collection: string): boolean {
  const plain = (name: string): string => name.toLowerCase().replace(/ies$/, 'y').replace(/s$/, '')
  return plain(key) === plain(collection)
}
