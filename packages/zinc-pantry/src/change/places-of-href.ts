import { readReferences } from '../body/html-addresses.ts'
import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { decodePart } from '../link/resolve-path.ts'

/** An address in a text. */
export interface WrittenAddress {
  readonly place: Place
  /** What is read there: without escapes and character references, its signs encoded as they are. */
  readonly address: string
}

/** A definition of links; its label has no bracket in it but behind a backslash, and its address may stand on the next line. */
const DEFINITION =
  /^[ \t>*-]*\[(?:\\[^\n]|[^\]\\\n]){1,999}\]:[ \t]*(?:\r?\n[ \t>]*)?(?:<((?:\\.|[^<>\\\n])*)>|(\S+))/gm

/**
 * Where the address of a link is written: at the place of the link, or, where it is one by reference, at the definitions that have that
 * address. None where that is not certain.
 */
export function placesOfHref(text: string, place: Place, href: string): readonly WrittenAddress[] {
  const own = readAs(text.slice(...place.span), href)
  if (own !== undefined) return [{ place, address: own }]
  return [...text.matchAll(DEFINITION)].flatMap((found): WrittenAddress[] => {
    const written = found[1] ?? found[2] ?? ''
    const end = found.index + found[0].length - (found[1] === undefined ? 0 : 1)
    const span: Span = [end - written.length, end]
    const address = readAs(written, href)
    return address === undefined ? [] : [{ place: { file: place.file, span }, address }]
  })
}

/** What a text says, where that is some address: as it stands, as HTML reads it, or as Markdown does. */
const readAs = (written: string, href: string): string | undefined =>
  [written, readReferences(written), readMarkdown(written)].find(
    // Readers of Markdown give some signs encoded that are written as they are.
    (one) => one === href || decodePart(one) === decodePart(href),
  )

/** Reads escapes and character references, by CommonMark 2.4 and 2.5. */
const readMarkdown = (written: string): string =>
  written.replace(
    /\\([!-/:-@[-`{-~])|[^\\]+/g,
    (plain, escaped: string | undefined) => escaped ?? readReferences(plain),
  )
