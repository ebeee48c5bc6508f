/** A part of what is searched for: a word, or words in quotes. */
export interface SearchTerm {
  readonly text: string
  /** Words in quotes stand beside each other, in this order. */
  readonly isPhrase: boolean
  /** Rows must have it, or must not; otherwise those that have it stand above others. */
  readonly need: 'must' | 'not' | 'may'
  /** True for the last one where it may still be typed, since no space follows, so that its last word can go on. */
  readonly isOpen: boolean
  /** Where it must stand; undefined for anywhere. */
  readonly place: string | undefined
}

/** True for a text that says more than words. */
export const hasSigns = (text: string): boolean => /"|(?:^|\s)[-+][\p{L}\p{N}"]|\S:\S/u.test(text)

const TERM = /([-+])?(?:([^\s":]+):(?=\S))?(?:"([^"]*)("?)|(\S+))/gu

/**
 * Reads what is searched for: words, `"words in quotes"`, `+word` for what must be there, `-word` for what must not, `title:word` for a
 * place. What is in quotes, and what has a place, must be there as well.
 */
export function readSearchTerms(text: string, places: readonly string[]): readonly SearchTerm[] {
  return [...text.matchAll(TERM)].flatMap(({ 0: whole, index, ...parts }): SearchTerm[] => {
    const { 1: sign, 2: named, 3: quoted, 4: end, 5: plain } = parts as Readonly<Record<number, string | undefined>>
    const place = places.find((one) => one === named)
    const isPhrase = quoted !== undefined
    // A name that is no place is a word, as in 10:30.
    const own = (named !== undefined && place === undefined ? `${named}:` : '') + (quoted ?? plain ?? '')
    const must = sign === '+' || isPhrase || place !== undefined ? 'must' : 'may'
    const isOpen = sign !== '-' && end !== '"' && index + whole.length === text.length && !/\s$/.test(text)
    return own === '' ? [] : [{ text: own, isPhrase, isOpen, place, need: sign === '-' ? 'not' : must }]
  })
}
