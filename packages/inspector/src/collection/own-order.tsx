import { ArrowDown, ArrowUp, GripVertical } from 'lucide-react'
import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { CollectionView } from 'zinc-pantry/inspect'
import { propose } from '../change/propose.ts'
import { Link } from '../parts/link.tsx'
import { plural } from '../parts/words.ts'
import { useCall } from '../site/use-call.ts'
import { QuestionProblem } from './question-problem.tsx'

/** More entries than a person puts into order by hand. */
const MOST = 1_000

/** The entries of a collection in its own order, to be put into another by mouse and by keyboard. */
export function OwnOrder({
  collection: { name: collection, manualOrder },
  locale,
  label,
  canWrite,
}: {
  readonly collection: CollectionView
  readonly locale: string | undefined
  /** The field that entries are called by. */
  readonly label: string
  readonly canWrite: boolean
}) {
  const question = { collection, fields: `id,${label}`, limit: MOST, ...(locale === undefined ? {} : { locale }) }
  const { answer } = useCall('rows', question, { keepsLast: true })
  const [dragged, setDragged] = useState<string>()
  const [over, setOver] = useState<string>()
  if (!answer) return null
  if ('problem' in answer) return <QuestionProblem problem={answer.problem} />
  const ids = answer.rows.map(([id]) => String(id))
  // Numbers of files count within their folder.
  const folderOf = (id: string): string => (manualOrder === 'numbers' ? id.slice(0, id.lastIndexOf('/') + 1) : '')
  const siblingsOf = (id: string): readonly string[] => ids.filter((one) => folderOf(one) === folderOf(id))
  const beside = (id: string, by: -1 | 1): string | undefined => {
    const siblings = siblingsOf(id)
    return siblings[siblings.indexOf(id) + by]
  }
  const move = (id: string, neighbour: string | undefined): void => {
    if (neighbour === undefined || neighbour === id) return
    const side = ids.indexOf(neighbour) < ids.indexOf(id) ? 'before' : 'after'
    propose({
      title: `${id} comes ${side} ${neighbour}`,
      request: { kind: 'move', target: `${collection}/${id}`, [side]: neighbour },
    })
  }
  const stop = (): void => {
    setDragged(undefined)
    setOver(undefined)
  }
  return (
    <section className="own-order">
      <p className="quiet">
        The whole collection in its own order, whatever is filtered.
        {answer.total > MOST ? ` The first ${plural(MOST, 'entry', 'entries')} are shown.` : ''}
      </p>
      <ol>
        {answer.rows.map(([key, name]) => {
          const id = String(key)
          return (
            <li
              key={id}
              className={id === dragged ? 'dragged' : id === over ? 'over' : ''}
              style={{ paddingInlineStart: 4 + 20 * (folderOf(id).split('/').length - 1) }}
              onDragOver={(event) => {
                if (dragged === undefined || folderOf(dragged) !== folderOf(id)) return
                event.preventDefault()
                setOver(id)
              }}
              onDrop={(event) => {
                event.preventDefault()
                if (dragged !== undefined) move(dragged, id)
                stop()
              }}
            >
              {canWrite ? (
                <span
                  className="grip"
                  aria-hidden
                  draggable
                  onDragStart={(event) => {
                    event.dataTransfer.effectAllowed = 'move'
                    event.dataTransfer.setData('text/plain', id)
                    setDragged(id)
                  }}
                  onDragEnd={stop}
                >
                  <GripVertical size={14} />
                </span>
              ) : null}
              <Link view="entry" values={{ name: `${collection}/${id}`, locale }}>
                {String(name ?? id)}
              </Link>
              <span className="quiet">{id}</span>
              {canWrite ? (
                <span className="item-tools">
                  <Button
                    className="icon"
                    aria-label={`Move ${id} up`}
                    isDisabled={beside(id, -1) === undefined}
                    onPress={() => move(id, beside(id, -1))}
                  >
                    <ArrowUp size={14} />
                  </Button>
                  <Button
                    className="icon"
                    aria-label={`Move ${id} down`}
                    isDisabled={beside(id, 1) === undefined}
                    onPress={() => move(id, beside(id, 1))}
                  >
                    <ArrowDown size={14} />
                  </Button>
                </span>
              ) : null}
            </li>
          )
        })}
      </ol>
    </section>
  )
}
