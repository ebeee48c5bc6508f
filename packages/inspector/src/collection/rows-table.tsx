import { useVirtualizer } from '@tanstack/react-virtual'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useEffect, useRef } from 'react'
import { Link } from '../parts/link.tsx'
import { isSortable, type NamedField } from '../site/model.ts'
import { Cell } from './cell.tsx'
import type { RowStore } from './row-store.ts'

const ROW_HEIGHT = 32
const OVERSCAN = 24

/** Rows of a table, of which only those are drawn that are looked at. */
export function RowsTable({
  name,
  locale,
  store,
  columns,
  sort,
  selected,
  onSort,
  onSelect,
}: {
  readonly name: string
  readonly locale: string | undefined
  readonly store: RowStore
  readonly columns: readonly NamedField[]
  readonly sort: string
  readonly selected: ReadonlySet<string>
  readonly onSort: (sort: string) => void
  readonly onSelect: (id: string, isSelected: boolean) => void
}) {
  const scroller = useRef<HTMLDivElement>(null)
  const { total = 0 } = store.state
  const rows = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: OVERSCAN,
  })
  const items = rows.getVirtualItems()
  const [from, to] = [items[0]?.index ?? 0, items.at(-1)?.index ?? 0]
  useEffect(() => store.want(from, to), [store, from, to])
  const widths = `34px ${columns.map(({ field }) => widthOf(field.kind)).join(' ')}`
  return (
    <div className="table" role="table" aria-label={name} aria-rowcount={total + 1} ref={scroller} tabIndex={0}>
      <div className="table-inner" style={{ gridTemplateColumns: widths }}>
        <div role="rowgroup" className="table-head">
          <div role="row" aria-rowindex={1} className="table-row" style={{ gridTemplateColumns: widths }}>
            <div role="columnheader">
              <span className="hidden-text">Chosen</span>
            </div>
            {columns.map((column) => (
              <Heading key={column.path} column={column} sort={sort} onSort={onSort} />
            ))}
          </div>
        </div>
        <div role="rowgroup" style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {items.map(({ index, start }) => {
            const row = store.row(index)
            const id = row === undefined ? undefined : String(row[0])
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={`table-row ${row === undefined ? 'blank' : ''} ${id !== undefined && selected.has(id) ? 'selected' : ''}`}
                style={{ gridTemplateColumns: widths, transform: `translateY(${start}px)`, height: ROW_HEIGHT }}
              >
                <div role="cell">
                  {id === undefined ? null : (
                    <input
                      type="checkbox"
                      aria-label={`Choose ${id}`}
                      checked={selected.has(id)}
                      onChange={(event) => onSelect(id, event.target.checked)}
                    />
                  )}
                </div>
                {columns.map(({ path, field }, at) => (
                  <div role="cell" key={path} className={isNumber(field.kind) ? 'number' : ''}>
                    {row === undefined ? null : at === 0 ? (
                      <Link view="entry" values={{ name: `${name}/${id}`, locale }}>
                        {String(row[1] ?? id)}
                      </Link>
                    ) : (
                      <Cell value={row[at + 1]} field={field} />
                    )}
                  </div>
                ))}
              </div>
            )
          })}
        </div>
      </div>
    </div>
  )
}

function Heading({
  column: { path, field },
  sort,
  onSort,
}: {
  readonly column: NamedField
  readonly sort: string
  readonly onSort: (sort: string) => void
}) {
  const isUp = sort === path
  const isDown = sort === `-${path}`
  const words = field.label ?? path
  const className = isNumber(field.kind) ? 'number' : ''
  if (!isSortable(field))
    return (
      <div role="columnheader" title={field.help} className={className}>
        {words}
      </div>
    )
  return (
    <div role="columnheader" aria-sort={isUp ? 'ascending' : isDown ? 'descending' : 'none'} className={className}>
      <button type="button" title={field.help} onClick={() => onSort(isUp ? `-${path}` : isDown ? '' : path)}>
        {words}
        {isUp ? <ArrowUp size={12} aria-hidden /> : isDown ? <ArrowDown size={12} aria-hidden /> : null}
      </button>
    </div>
  )
}

const isNumber = (kind: string): boolean => kind === 'int' || kind === 'number'

/** How wide the values of a kind are. */
function widthOf(kind: string): string {
  if (kind === 'flag' || kind === 'time' || kind === 'image') return '84px'
  if (isNumber(kind)) return '104px'
  if (kind === 'date' || kind === 'colour' || kind === 'duration') return '116px'
  if (kind === 'choice' || kind === 'variant') return '150px'
  return 'minmax(170px, 1fr)'
}

/** What rows are asked for: their ids first. */
export const fieldsOf = (columns: readonly NamedField[]): string => ['id', ...columns.map(({ path }) => path)].join(',')
