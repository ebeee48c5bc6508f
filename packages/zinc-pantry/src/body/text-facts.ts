import type { BodyFacts, OutlineItem } from '../schema/body-facts.ts'

const WORDS_A_MINUTE = 200
/** Longest excerpt that is taken without a mark, in characters. */
const EXCERPT = 240

/** Words of a text: letters and digits of all scripts, with apostrophes and hyphens inside. */
export const countWords = (text: string): number => text.match(/[\p{L}\p{N}](?:['’-]?[\p{L}\p{N}])*/gu)?.length ?? 0

/** Reading time in minutes, at least 1. */
export const countMinutes = (words: number): number => Math.max(1, Math.round(words / WORDS_A_MINUTE))

/** The excerpt: all paragraphs above the mark, or the first one, cut at a word. */
export function takeExcerpt(paragraphs: readonly string[], isMarked: boolean): string {
  if (isMarked) return paragraphs.join(' ')
  const first = paragraphs.find((text) => text !== '') ?? ''
  if (first.length <= EXCERPT) return first
  const end = first.lastIndexOf(' ', EXCERPT)
  return `${first.slice(0, end > 0 ? end : EXCERPT)}…`
}

/** Nests headings below each other. */
export function buildOutline(headings: readonly { id: string; text: string; depth: number }[]): OutlineItem[] {
  interface Open extends OutlineItem {
    readonly children: Open[]
  }
  const top: Open[] = []
  const above: Open[] = []
  for (const heading of headings) {
    const item: Open = { ...heading, children: [] }
    while ((above.at(-1)?.depth ?? 0) >= heading.depth) above.pop()
    const holder = above.at(-1)?.children ?? top
    holder.push(item)
    above.push(item)
  }
  return top
}

/** The facts of a body in which nothing can be read. */
export const NO_FACTS: BodyFacts = {
  outline: [],
  links: [],
  images: [],
  firstImage: null,
  blocks: [],
  excerpt: '',
  words: 0,
  minutes: 1,
}
