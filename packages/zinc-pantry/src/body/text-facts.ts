import type { LinkExcerpt, OutlineItem, WrittenFacts } from '../schema/body-facts.ts'

const WORDS_A_MINUTE = 200
/** Longest excerpt that is taken without a mark, in characters. */
const EXCERPT = 240

const WORDS = /[\p{L}\p{N}](?:['’-]?[\p{L}\p{N}])*/gu

/** Words of a text: letters and digits of all scripts, with apostrophes and hyphens inside. */
export function countWords(text: string): number {
  let words = 0
  // Whether the last letters could go on in the same word: 2 after a letter, 1 after a sign behind one.
  let within = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    // Texts of other scripts take the long way, which is some ten times as long.
    if (code > 127) return text.match(WORDS)?.length ?? 0
    const isLetter = (code >= 97 && code <= 122) || (code >= 65 && code <= 90) || (code >= 48 && code <= 57)
    if (isLetter) {
      if (within === 0) words++
      within = 2
    } else within = within === 2 && (code === 39 || code === 45) ? 1 : 0
  }
  return words
}

/** Reading time in minutes, at least 1. */
const countMinutes = (words: number): number => Math.max(1, Math.round(words / WORDS_A_MINUTE))

/** The excerpt: all paragraphs above the mark, or the first one, cut at a word. */
function takeExcerpt(paragraphs: readonly string[], isMarked: boolean): string {
  if (isMarked) return paragraphs.join(' ')
  const first = paragraphs.find((text) => text !== '') ?? ''
  if (first.length <= EXCERPT) return first
  const end = first.lastIndexOf(' ', EXCERPT)
  return `${first.slice(0, end > 0 ? end : EXCERPT)}…`
}

/** Nests headings below each other. */
function buildOutline(headings: readonly { id: string; text: string; depth: number }[]): OutlineItem[] {
  interface Open extends OutlineItem {
    readonly children: Open[]
  }
  const top: Open[] = []
  const above: Open[] = []
  for (const heading of headings) {
    const { id, text, depth } = heading
    const item: Open = { id, text, depth, children: [] }
    while ((above.at(-1)?.depth ?? 0) >= heading.depth) above.pop()
    const holder = above.at(-1)?.children ?? top
    holder.push(item)
    above.push(item)
  }
  return top
}

/** How much text is told on each side of a link, in characters. */
const AROUND = 80

/** Of a link that stands in no text. */
export const NO_EXCERPT: LinkExcerpt = { before: '', label: '', after: '' }

/** Cuts the text around a link out of a whole one. */
export function cutExcerpt(text: string, start: number, end: number): LinkExcerpt {
  const from = Math.max(0, start - AROUND)
  const to = Math.min(text.length, end + AROUND)
  const before = text.slice(from, start)
  const after = text.slice(end, to)
  return {
    before: from === 0 ? before.trimStart() : `…${before.replace(/^\S*/, '')}`,
    label: text.slice(start, end),
    after: to === text.length ? after.trimEnd() : `${withoutLastWord(after)}…`,
  }
}

/** A text up to its last space, that included. */
function withoutLastWord(text: string): string {
  let end = text.length
  while (end > 0 && !/\s/.test(text[end - 1] as string)) end--
  return text.slice(0, end)
}

/** The findings in a body, in order. */
export interface FoundFacts {
  readonly headings: readonly { readonly id: string; readonly text: string; readonly depth: number }[]
  /** The first place of each link, by its address. */
  readonly links: ReadonlyMap<string, LinkExcerpt>
  readonly hasExcerpts: boolean
  readonly images: WrittenFacts['images']
  readonly blocks: readonly string[]
  readonly paragraphs: readonly string[]
  /** How many paragraphs stand above the mark behind the excerpt. */
  readonly marked: number | undefined
  readonly words: number
}

/** Puts together what an entry says of its body. */
export const createFacts = ({
  headings,
  links,
  hasExcerpts,
  images,
  blocks,
  paragraphs,
  marked,
  words,
}: FoundFacts): WrittenFacts => ({
  outline: buildOutline(headings),
  links: [...links.keys()],
  excerpts: hasExcerpts ? [...links.values()] : [],
  images,
  firstImage: images[0] ?? null,
  blocks: [...new Set(blocks)],
  excerpt: takeExcerpt(paragraphs.slice(0, marked), marked !== undefined),
  words,
  minutes: countMinutes(words),
})

/** The facts of a body in which nothing can be read. */
export const NO_FACTS: WrittenFacts = {
  outline: [],
  links: [],
  excerpts: [],
  images: [],
  firstImage: null,
  blocks: [],
  excerpt: '',
  words: 0,
  minutes: 1,
}
