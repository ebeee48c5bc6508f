import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entry.ts'
import type { CollectionPages } from './link-resolver.ts'

/** A page whose address another page before it has. Entries are told by their collections and their rows in them. */
export interface SharedAddress {
  readonly address: string
  readonly at: RowPlace
  readonly first: RowPlace
}

/** The number of a collection, and of an entry in it. */
type RowPlace = readonly [collection: number, row: number]

/** An address as servers compare it: escapes read, and with or without a slash at its end. */
const normalise = (address: string): string => {
  try {
    return decodeURI(address).replace(/(?<=.)\/$/, '')
  } catch {
    return address
  }
}

/** Finds pages that have one address, of whatever collections and languages they are. */
export function findSharedAddresses(collections: readonly CollectionPages[]): readonly SharedAddress[] {
  const first = new Map<string, RowPlace>()
  const shared: SharedAddress[] = []
  for (const [number, { hasPages, pages }] of collections.entries())
    for (const [row, { address }] of hasPages ? pages().entries() : []) {
      if (address === undefined) continue
      const key = normalise(address)
      const other = first.get(key)
      if (other) shared.push({ address, at: [number, row], first: other })
      else first.set(key, [number, row])
    }
  return shared
}

/** Describes pages that have one address. */
export function describeSharedAddresses(
  shared: readonly SharedAddress[],
  collections: readonly LinkedCollection[],
): Diagnostic[] {
  const entryAt = ([collection, row]: RowPlace): LinkedEntry => collections[collection]?.entries[row] as LinkedEntry
  return shared.flatMap(({ address, at, first }) => {
    const [entry, other] = [entryAt(at), entryAt(first)]
    // Two entries with one id are told already.
    if (other.collection === entry.collection && other.id === entry.id && other.locale === entry.locale) return []
    const related = [{ ...other.locate(other.idPath), note: 'first-used' as const }]
    const name = `${other.collection}/${other.id}${other.locale === entry.locale ? '' : ` (${other.locale})`}`
    return [createDiagnostic('address-duplicate', entry.locate(entry.idPath), { address, other: name }, { related })]
  })
}
