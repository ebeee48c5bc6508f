/** The info string of a fence of code. */
export interface CodeInfo {
  /** Empty where there is none. */
  readonly language: string
  readonly title: string | undefined
  /** Numbers of the lines to be marked, from 1. */
  readonly marked: ReadonlySet<number>
}

const TITLE = /(?:^|\s)title=(?:"([^"]*)"|'([^']*)'|(\S+))/
const MARKED = /\{([\d,\s-]+)\}/
/** More lines than this cannot be marked by one range. */
const MAX_RANGE = 10_000

/** Reads an info string: a language, then `title="…"` and `{1,3-5}` for lines to be marked. */
export function readCodeInfo(info: string): CodeInfo {
  const text = info.trim()
  const [first = ''] = text.split(/[\s{]/, 1)
  const rest = text.slice(first.length)
  const title = TITLE.exec(rest)
  return {
    language: first,
    title: title ? (title[1] ?? title[2] ?? title[3]) : undefined,
    marked: new Set((MARKED.exec(rest)?.[1] ?? '').split(',').flatMap(readRange)),
  }
}

function readRange(range: string): number[] {
  const [first = 0, last = first] = range.split('-').map(Number)
  if (!(first >= 1 && last >= first && last - first < MAX_RANGE)) return []
  return Array.from({ length: last - first + 1 }, (_, index) => first + index)
}
