import { largest } from '../diagnostics/extremes.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import { lineOf } from '../diagnostics/line-of.ts'
import type { Answer } from '../engine/index.ts'

/** How counts are drawn. */
interface FacetStyle {
  /** Characters in a line, or undefined where there is no end. */
  readonly width: number | undefined
  heading(text: string): string
  faint(text: string): string
}

/** Draws how often each value occurs, a line a field, the most frequent first; what does not fit is counted. */
export function renderFacets({ facets }: Answer, { width = 100, heading, faint }: FacetStyle): string {
  const room = largest(facets, ({ name }) => name.length)
  const lines = facets.map(({ name, counts }) => {
    const shown: string[] = []
    let left = width - room - 2
    const labels = counts.map(({ value, label }) => lineOf(label ?? value))
    for (const [at, { value, label, count }] of counts.entries()) {
      // Two that are shown alike are told apart by their ids.
      const isAlone = label === undefined || labels.indexOf(lineOf(label)) === labels.lastIndexOf(lineOf(label))
      const own = isAlone ? (labels[at] as string) : `${labels[at]} (${lineOf(value)})`
      const part = `${own} ${faint(formatCount(count))}`
      const length = `${own} ${formatCount(count)}   `.length
      if (length > left - 12 && shown.length > 0) break
      left -= length
      shown.push(part)
    }
    const more = counts.length - shown.length
    const rest = more > 0 ? [faint(`and ${more} more`)] : counts.length === 0 ? [faint('no values')] : []
    return `${heading(name.padEnd(room))}  ${[...shown, ...rest].join('   ')}\n`
  })
  return lines.length > 0 ? `\n${lines.join('')}` : ''
}
