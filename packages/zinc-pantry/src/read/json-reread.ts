import { createDocument, MAX_DEPTH, type ReadResult, type SourceText } from './document.ts'
import { buildJsonPlaces } from './json-places.ts'
import { countColons, endOfText, measure } from './json-shape.ts'

/** A list of JSON without a problem, as it was read, and where its items end: at a comma, or at the bracket behind the last. */
interface KnownList {
  readonly text: string
  readonly items: readonly unknown[]
  readonly open: number
  readonly ends: readonly number[]
}

/**
 * Makes what reads a list again from a text that differs in a few places: between the items in front of the first difference and
 * those behind the last, what stands there is read as a list of its own, and all others are the very same values. Gives nothing where
 * that cannot be, or has a problem: then the whole text is to be read.
 */
export function createListReader(text: string, items: readonly unknown[]): NonNullable<ReadResult['reread']> {
  let known: KnownList | undefined
  return (source) => {
    known ??= { text, items, ...findEnds(text) }
    return known.ends.length === items.length ? rereadList(source, known) : undefined
  }
}

function rereadList({ text }: SourceText, known: KnownList): ReadResult | undefined {
  const { text: last, items, open, ends } = known
  const [start, end] = findDifference(last, text)
  const moved = text.length - last.length
  const from = ends.findIndex((at) => at >= start)
  const to = ends.findIndex((at) => at >= end)
  const first = from <= 0 ? open + 1 : (ends[from - 1] as number) + 1
  if (from === -1 || to === -1 || start < first) return undefined
  const part = text.slice(first, (ends[to] as number) + moved)
  const read = readItems(part)
  if (!read) return undefined
  const own = findEnds(`[${part}]`).ends.map((at) => at - 1 + first)
  if (own.length !== read.length) return undefined
  const value = [...items.slice(0, from), ...read, ...items.slice(to + 1)]
  const next: KnownList = {
    ...{ text, items: value, open },
    ends: [...ends.slice(0, from), ...own, ...ends.slice(to + 1).map((at) => at + moved)],
  }
  return {
    document: createDocument(value, () => buildJsonPlaces(text)),
    diagnostics: [],
    reread: (source) => rereadList(source, next),
  }
}

/** The items of a part of a list; undefined where it is none, is empty, or has a problem. */
function readItems(part: string): readonly unknown[] | undefined {
  try {
    const items = JSON.parse(`[${part}]`) as readonly unknown[]
    const { depth, keys } = measure(items)
    return items.length > 0 && depth <= MAX_DEPTH && keys === countColons(part) ? items : undefined
  } catch {
    return undefined
  }
}

/** Where the first text has something else than the second: up to there, and from there on, both are the same. */
function findDifference(last: string, text: string): readonly [start: number, end: number] {
  const most = Math.min(last.length, text.length)
  const start = countSame(most, (from, to) => last.slice(from, to) === text.slice(from, to))
  const behind = countSame(
    most - start,
    (from, to) => last.slice(last.length - to, last.length - from) === text.slice(text.length - to, text.length - from),
  )
  return [start, last.length - behind]
}

/** The number of characters, up to a limit, that are the same one after another: they are compared in few long pieces, each once or twice. */
function countSame(limit: number, isSame: (from: number, to: number) => boolean): number {
  let [low, high] = [0, limit]
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if (isSame(low, middle)) low = middle
    else high = middle - 1
  }
  return low
}

const QUOTE = 34
const COMMA = 44
const OPENING = new Set([91, 123])
const CLOSING = new Set([93, 125])

/** The opening bracket of a list, and the ends of its items. */
function findEnds(text: string): Pick<KnownList, 'open' | 'ends'> {
  const ends: number[] = []
  let open = -1
  let depth = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === QUOTE) at = endOfText(text, at)
    else if (OPENING.has(code)) {
      if (depth++ === 0) open = at
    } else if (CLOSING.has(code)) {
      if (--depth === 0) ends.push(at)
    } else if (code === COMMA && depth === 1) ends.push(at)
  }
  return { open, ends }
}
