import { largest } from '../diagnostics/extremes.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import type { Palette } from '../engine/index.ts'
import { plural, type QueryPlan, writeCondition } from '../engine/index.ts'

/** Draws how a query was answered: a line for each index, then what had to be looked at and read. */
export function renderPlan(
  { steps, order, examined, sorted, bytes }: QueryPlan,
  { strong, faint }: Pick<Palette, 'strong' | 'faint'>,
): string {
  const lines = steps.map(({ index, rows, part }) => [index, plural(rows, 'row'), writeCondition(part)])
  if (order !== undefined) lines.push([order, 'in order', 'sort'])
  const widths = [0, 1].map((at) => largest(lines, (line) => (line[at] ?? '').length))
  const drawn = lines.map(
    ([index = '', rows = '', part = '']) =>
      `  ${strong(index.padEnd(widths[0] ?? 0))}  ${rows.padEnd(widths[1] ?? 0)}  ${faint(part)}\n`,
  )
  const done = [
    ...(examined > 0
      ? [`${steps.length === 0 ? 'no index fits, so ' : ''}the condition was tested on ${entries(examined)}`]
      : []),
    ...(sorted > 0
      ? [`${order === undefined ? 'no index has the order, so ' : ''}${entries(sorted)} were sorted`]
      : []),
    `${formatCount(bytes)} bytes read`,
  ]
  return `Plan\n${drawn.join('')}  ${done.join('; ')}\n`
}

const entries = (count: number): string => plural(count, 'entry', 'entries')
