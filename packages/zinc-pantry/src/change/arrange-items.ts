import type { Span } from '../diagnostics/diagnostic.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { canonical, listComments } from './edit-value.ts'
import { type EditedSource, withEdits } from './edited-source.ts'
import { itemLineStart } from './line-places.ts'

/**
 * Puts the items of a list in another order, `order[at]` being the position now of what comes to stand at `at`. An item takes its
 * comments with it where it has lines of its own. Undefined where a person has to do it; it is proved by reading it again.
 */
export function arrangeItems(
  source: EditedSource,
  path: readonly PathSegment[],
  order: readonly number[],
): EditedSource | undefined {
  const { text, document, format } = source
  const values = order.map((at) => document.locate([...path, at], 'value'))
  const places = values.toSorted(([a], [b]) => a - b)
  const asLines = places.map((span, at) => lineStartOf(text, span, places[at - 1]))
  const isBlock = asLines.every((start) => start !== undefined)
  const chunks = isBlock ? lineChunks(text, places, asLines as number[]) : places
  const first = chunks[0]
  const end = chunks.at(-1)?.[1]
  if (!first || end === undefined) return undefined
  const parts = order.map((from, at) => {
    const [start, stop] = chunks[from] as Span
    const gap = isBlock ? '' : text.slice(chunks[at]?.[1], chunks[at + 1]?.[0] ?? chunks[at]?.[1])
    const own = text.slice(start, stop)
    return (isBlock && !own.endsWith('\n') && at < order.length - 1 ? `${own}\n` : own) + gap
  })
  const written = parts.join('')
  // A text that ends without a line end goes on doing so.
  const joined = isBlock && !text.slice(0, end).endsWith('\n') ? written.replace(/\r?\n$/, '') : written
  const after = withEdits(source, [{ span: [first[0], end], text: joined }])
  const items = valueAt(document.value, path) as readonly unknown[]
  const wanted = order.map((at) => items[at])
  const comments = (one: string): string => JSON.stringify(listComments(one, format).toSorted())
  return after &&
    canonical(valueAt(after.document.value, path)) === canonical(wanted) &&
    comments(after.text) === comments(text)
    ? after
    : undefined
}

/** The start of the line of an item that has lines of its own, with the comments above it. */
function lineStartOf(text: string, [start]: Span, before: Span | undefined): number | undefined {
  const line = itemLineStart(text, start)
  if (line === undefined || (before && before[1] > line)) return undefined
  let at = line
  for (;;) {
    const above = text.lastIndexOf('\n', at - 2) + 1
    if (above === at || above < (before?.[1] ?? 0) || !/^\s*#/.test(text.slice(above, at))) return at
    at = above
  }
}

/** The lines of items: each to the start of the next, the last to the end of its own. */
function lineChunks(text: string, places: readonly Span[], starts: readonly number[]): readonly Span[] {
  return places.map(([, end], at): Span => {
    const stop = text[end - 1] === '\n' ? end : text.indexOf('\n', end) + 1 || text.length
    return [starts[at] as number, starts[at + 1] ?? stop]
  })
}
