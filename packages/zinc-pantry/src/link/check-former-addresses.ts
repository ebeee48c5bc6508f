import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { LinkedCollection } from './link-entry.ts'
import type { CollectionPages } from './link-resolver.ts'

/** An address as servers compare it, with or without a slash at its end. */
const plain = (address: string): string => address.replace(/(?<=.)\/$/, '')

/**
 * Checks the former addresses of pages: each is an address from the root of the site, that of no page of today, and of one
 * page only.
 */
export function checkFormerAddresses(
  collections: readonly LinkedCollection[],
  pages: readonly CollectionPages[],
): Diagnostic[] {
  if (collections.every(({ collection }) => collection.formerAddresses === undefined)) return []
  const taken = new Map<string, string>()
  for (const { hasPages, pages: own } of pages)
    for (const { address, collection, id } of hasPages ? own() : [])
      if (address !== undefined) taken.set(plain(address), `${collection}/${id}`)
  const claimed = new Map<string, string>()
  return collections.flatMap(({ collection: { name, formerAddresses: field }, entries }) =>
    field === undefined ? [] : entries.flatMap((entry) => checkEntry(entry, { name, field, taken, claimed })),
  )
}

interface Claims {
  readonly name: string
  readonly field: string
  /** The pages that have addresses. */
  readonly taken: ReadonlyMap<string, string>
  /** The pages that had them. */
  readonly claimed: Map<string, string>
}

function checkEntry(entry: LinkedEntry, { name, field, taken, claimed }: Claims): Diagnostic[] {
  const value = entry.data?.[field]
  const list: readonly unknown[] = Array.isArray(value) ? value : []
  const own = `${name}/${entry.id}`
  return list.flatMap((address, at): Diagnostic[] => {
    if (typeof address !== 'string') return []
    const place = entry.locate([field, at])
    if (!/^\/(?!\/)[^\s?#]*$/.test(address)) return [createDiagnostic('former-address-invalid', place, { address })]
    const other = taken.get(plain(address)) ?? claimed.get(plain(address))
    if (other === undefined) claimed.set(plain(address), own)
    return other === undefined ? [] : [createDiagnostic('former-address-taken', place, { address, other })]
  })
}
