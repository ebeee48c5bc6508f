import type { AddressTest, LocatedLinks } from '../link/check-links.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Finds the links of an entry that do not pass. */
export type LinkLocator = (entry: LinkedEntry, isFine: AddressTest) => LocatedLinks

/**
 * Makes what remembers the links that it found: those of a change are asked for twice, before and after it is known what becomes
 * of addresses, and to find them takes a parse.
 */
export function rememberLinks(locate: LinkLocator): LinkLocator {
  const known = new Map<LinkedEntry, { readonly wanted: ReadonlySet<string>; readonly links: LocatedLinks }>()
  return (entry, isFine) => {
    const { body, texts } = entry
    const addresses = [body?.summary, ...texts.map(({ summary }) => summary)].flatMap((one) => one?.addresses ?? [])
    const fine = new Map(addresses.map((address) => [address, isFine(address)]))
    const wanted = addresses.filter((address) => fine.get(address) === false)
    const test: AddressTest = (href) => fine.get(href) ?? isFine(href)
    if (wanted.length === 0) return { body: [], texts: texts.map(() => []) }
    const last = known.get(entry)
    if (last && wanted.every((address) => last.wanted.has(address))) {
      const isWanted = ({ href }: { readonly href: string }): boolean => !test(href)
      return { body: last.links.body.filter(isWanted), texts: last.links.texts.map((own) => own.filter(isWanted)) }
    }
    const links = locate(entry, test)
    known.set(entry, { wanted: new Set(wanted), links })
    return links
  }
}
