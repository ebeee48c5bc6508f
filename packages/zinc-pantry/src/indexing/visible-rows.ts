import type { Catalogue } from '../query/catalogue.ts'
import { encodeDeltas } from './build-index.ts'

/** Of each language the rows that are seen in it: of every id the one in that language, or else in the first. */
export function buildLocaleRows(
  versions: readonly { readonly id: string; readonly locale: string | undefined }[],
  locales: readonly string[],
): NonNullable<Catalogue['locales']> {
  return Object.fromEntries(
    locales.map((locale) => [locale, encodeDeltas(findVisible(versions, [locale, locales[0]]))]),
  )
}

function findVisible(
  versions: readonly { readonly id: string; readonly locale: string | undefined }[],
  wanted: readonly (string | undefined)[],
): number[] {
  const best = new Map<string, { row: number; rank: number }>()
  for (const [row, { id, locale }] of versions.entries()) {
    const rank = wanted.indexOf(locale)
    const known = best.get(id)
    if (rank !== -1 && (!known || rank < known.rank)) best.set(id, { row, rank })
  }
  return [...best.values()].map(({ row }) => row).sort((a, b) => a - b)
}
