import type { ConnectionView, RecordView } from 'zinc-pantry/inspect'
import { addressOf, followLink } from '../site/address.ts'

const MOST = 7
const ROW = 26
const WIDTH = 420
const NODE = 118

/** The entry between what refers to it and what it refers to; each of them leads there. */
export function EntryGraph({ view: { head, refersTo, usedBy } }: { readonly view: RecordView }) {
  const left = unique(usedBy)
  const right = unique(refersTo)
  const rows = Math.max(1, Math.min(MOST, left.length), Math.min(MOST, right.length))
  if (left.length + right.length === 0) return null
  const height = rows * ROW + 10
  const middle = height / 2
  const yOf = (at: number, count: number): number => middle + (at - (count - 1) / 2) * ROW
  const line = (x1: number, y1: number, x2: number, y2: number): string =>
    `M${x1} ${y1} C${(x1 + x2) / 2} ${y1} ${(x1 + x2) / 2} ${y2} ${x2} ${y2}`
  const side = (nodes: readonly ConnectionView[], isLeft: boolean) => {
    const shown = nodes.slice(0, MOST)
    const x = isLeft ? 4 : WIDTH - NODE - 4
    return shown.map((one, at) => {
      const y = yOf(at, shown.length)
      return (
        <g key={`${one.name} ${one.locale}`}>
          <path
            className="edge"
            d={isLeft ? line(x + NODE, y, WIDTH / 2 - NODE / 2, middle) : line(WIDTH / 2 + NODE / 2, middle, x, y)}
          />
          <a href={addressOf('entry', { name: one.name, locale: one.locale })} onClick={followLink}>
            <rect x={x} y={y - 10} width={NODE} height={20} rx={5} />
            <text x={x + NODE / 2} y={y + 4}>
              {shorten(one.label)}
            </text>
            <title>{`${one.name}${one.path === undefined ? '' : ` (${one.path})`}`}</title>
          </a>
        </g>
      )
    })
  }
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawing has no element for a group of links.
    <svg className="graph" viewBox={`0 0 ${WIDTH} ${height}`} role="group" aria-label="What it is connected with">
      {side(left, true)}
      {side(right, false)}
      <g className="self">
        <rect x={WIDTH / 2 - NODE / 2} y={middle - 11} width={NODE} height={22} rx={5} />
        <text x={WIDTH / 2} y={middle + 4}>
          {shorten(head.label)}
        </text>
      </g>
    </svg>
  )
}

const unique = (connections: readonly ConnectionView[]): readonly ConnectionView[] => [
  ...new Map(connections.map((one) => [`${one.name} ${one.locale}`, one])).values(),
]

const shorten = (text: string): string => (text.length > 17 ? `${text.slice(0, 16)}…` : text)
