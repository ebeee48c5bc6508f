/** Letters that lose their marks by no rule of Unicode. */
const LETTERS: Readonly<Record<string, string>> = {
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  ł: 'l',
  ħ: 'h',
  ı: 'i',
  ς: 'σ',
}

/** A text as search compares it: without case, width and marks, the same for all languages. */
const foldText = (text: string): string =>
  /^[\x20-\x7e]*$/.test(text)
    ? text.toLowerCase()
    : text
        .normalize('NFKD')
        .replace(/\p{M}+/gu, '')
        .toLowerCase()
        .normalize('NFKD')
        .replace(/[\p{M}ßæœøđðþłħıς]/gu, (letter) => LETTERS[letter] ?? '')

const WORD = /[\p{L}\p{N}]+/gu
/** Scripts that put no space between words; two characters together stand for one. */
const DENSE = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}]/u

/** A word of a text. */
export interface Word {
  readonly word: string
  /** Where it stands in the text, in UTF-16 code units. */
  readonly start: number
  readonly end: number
}

/** The words of a text, folded, in order. */
export function findWords(text: string): Word[] {
  const words: Word[] = []
  for (const { 0: found, index } of text.matchAll(WORD)) {
    if (/^[\w]+$/.test(found) || !DENSE.test(found))
      words.push({ word: foldText(found), start: index, end: index + found.length })
    else {
      const letters = [...found]
      let start = index
      for (const [at, letter] of letters.entries()) {
        const pair = letter + (letters[at + 1] ?? '')
        if (at === 0 || at + 1 < letters.length) words.push({ word: foldText(pair), start, end: start + pair.length })
        start += letter.length
      }
    }
  }
  return words
}

/** A test for texts that have all the words, whole, in any order. */
export function hasWords(wanted: string): (value: unknown) => boolean {
  const words = findWords(wanted).map(({ word }) => word)
  return (value) => {
    const found = new Set(findWords(String(value)).map(({ word }) => word))
    return words.every((word) => found.has(word))
  }
}
