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
  ة: 'ه',
  ى: 'ي',
  ـ: '',
}

/** The Arabic article, alone or behind a word of one letter that is written with it, before a word of its own. */
const ARTICLE = /^(?:[وبكف]?ال|لل)(?=\p{Script=Arabic}{2})/u

/** A text as search compares it: without case, width and marks, the same for all languages. */
export const foldText = (text: string): string =>
  /^[\x20-\x7e]*$/.test(text)
    ? text.toLowerCase()
    : text
        .normalize('NFKD')
        .replace(/\p{M}+/gu, '')
        .toLowerCase()
        .normalize('NFKD')
        .replace(/[\p{M}ßæœøđðþłħıςةىـ]/gu, (letter) => LETTERS[letter] ?? '')
        .replace(ARTICLE, '')

/**
 * Words: versions and other numbers with dots, names that end with signs (`C++`, `C#`), English words with an ending behind an
 * apostrophe (`can't`), and runs of letters and digits.
 */
const WORD =
  /(?<![\p{L}\p{N}])[vV]?(\p{Nd}+(?:\.\p{Nd}+)+)(?![\p{L}\p{N}])|(?<![\p{L}\p{N}])\p{L}{1,2}(?:\+\+|#(?![\p{L}\p{N}#]))|[\p{L}\p{M}]{2,}['’](?:t|s|re|ll|ve|d|m)(?![\p{L}\p{N}])|[\p{L}\p{N}\p{M}]+/giu
/** Names with slashes, as those of files. */
const PATH = /(?<![\p{L}\p{N}_@.-])[\p{L}\p{N}_@.-]+(?:[/\\][\p{L}\p{N}_@.-]*[\p{L}\p{N}_@-])+/gu
const LONGEST_PATH = 64
/** Scripts that put no space between words; two characters together stand for one. */
const DENSE = '\\p{scx=Han}\\p{scx=Hiragana}\\p{scx=Katakana}\\p{scx=Thai}\\p{scx=Lao}\\p{scx=Khmer}\\p{scx=Myanmar}'
/** Patterns of such scripts. */
interface DensePatterns {
  /** A letter with its marks. */
  readonly letter: RegExp
  /** A run of their letters, or of others. */
  readonly run: RegExp
}
let densePatterns: DensePatterns | undefined
/** Made where letters beyond ASCII are met: the sets of so many scripts take 4 ms, and most commands search nothing. */
function dense(): DensePatterns {
  densePatterns ??= {
    letter: new RegExp(`(?:(?!\\p{M})[${DENSE}])\\p{M}*`, 'gu'),
    run: new RegExp(`(?:(?:(?!\\p{M})[${DENSE}])\\p{M}*)+|(?:(?![${DENSE}]).|\\p{M})+`, 'gu'),
  }
  return densePatterns
}

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
  const add = (found: string, start: number): void => {
    const word = foldText(found).replace(/['’]/g, '')
    if (word !== '') words.push({ word, start, end: start + found.length })
  }
  for (const { 0: found, 1: version, index } of text.matchAll(WORD)) {
    if (/^\w+$/.test(found)) add(found, index)
    else if (version !== undefined) add(version, index + found.length - version.length)
    else if (/['’+#]/.test(found)) add(found, index)
    else for (const run of found.matchAll(dense().run)) addRun(run[0], index + run.index)
  }
  return words

  /** A run of letters in scripts of one sort: one word, or the pairs of its letters. */
  function addRun(run: string, start: number): void {
    const letters = run.match(dense().letter) ?? []
    if (letters.length === 0) add(run, start)
    let at = start
    for (const [number, letter] of letters.entries()) {
      const next = letters[number + 1]
      if (number === 0 || next !== undefined) add(letter + (next ?? ''), at)
      at += letter.length
    }
  }
}

/** The words of a text and the paths in it, which are words besides their parts. */
export function findWordsAndPaths(text: string): Word[] {
  if (!/[/\\]/.test(text)) return findWords(text)
  const paths = Array.from(text.matchAll(PATH), ({ 0: path, index }) => ({
    word: foldText(path).replaceAll('\\', '/'),
    start: index,
    end: index + path.length,
  }))
  return [...findWords(text), ...paths.filter(({ word }) => word.length <= LONGEST_PATH)]
}

/** The words of a text as they are compared. */
export const wordsOf = (text: string): string[] => findWords(text).map(({ word }) => word)

/** A test for texts that have all the words, whole, in any order. */
export function hasWords(wanted: string): (value: unknown) => boolean {
  const words = wordsOf(wanted)
  return (value) => {
    const found = new Set(wordsOf(String(value)))
    return words.every((word) => found.has(word))
  }
}
