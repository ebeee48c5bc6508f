import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entries.ts'

/** Collections that were fine the last time, with the addresses of their entries. */
export interface AddressMemory {
  fine?: readonly LinkedCollection[] | undefined
}

/** The address of the page of an entry, where it has one. */
export function addressOf({ data }: LinkedEntry, { address }: CollectionModel): string | undefined {
  const value = address === undefined ? undefined : data?.[address]
  return typeof value === 'string' ? value : undefined
}

/** An address as servers compare it: escapes read, and with or without a slash at its end. */
const normalise = (address: string): string => {
  try {
    return decodeURI(address).replace(/(?<=.)\/$/, '')
  } catch {
    return address
  }
}

/** Checks that no two pages have one address, of whatever collections and languages they are. */
export function checkAddresses(collections: readonly LinkedCollection[], memory?: AddressMemory): Diagnostic[] {
  const { fine } = memory ?? {}
  if (fine?.length === collections.length && collections.every((one, at) => isAlike(one, fine[at]))) return []
  const first = new Map<string, LinkedEntry>()
  const diagnostics: Diagnostic[] = []
  for (const { collection, entries } of collections)
    for (const entry of entries) {
      const address = addressOf(entry, collection)
      if (address === undefined) continue
      const key = normalise(address)
      const other = first.get(key)
      if (!other) {
        first.set(key, entry)
        continue
      }
      // Two entries with one id are told already.
      if (other.collection === entry.collection && other.id === entry.id && other.locale === entry.locale) continue
      const related = [{ ...other.locate(other.idPath), note: 'first-used' as const }]
      const name = `${other.collection}/${other.id}${other.locale === entry.locale ? '' : ` (${other.locale})`}`
      diagnostics.push(
        createDiagnostic('address-duplicate', entry.locate(entry.idPath), { address, other: name }, { related }),
      )
    }
  if (memory) memory.fine = diagnostics.length === 0 ? collections : undefined
  return diagnostics
}

/** True where the same addresses stand in the same places. */
const isAlike = ({ collection, entries }: LinkedCollection, last: LinkedCollection | undefined): boolean =>
  last?.collection === collection &&
  last.entries.length === entries.length &&
  (collection.address === undefined ||
    entries.every((entry, at) => {
      const old = last.entries[at] as LinkedEntry
      return (
        old === entry ||
        (old.id === entry.id &&
          old.locale === entry.locale &&
          addressOf(old, collection) === addressOf(entry, collection))
      )
    }))
