import { ArrowDown, ArrowUp, GripVertical, Plus, Trash2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { FieldModel } from 'zinc-pantry/inspect'
import { valueWords } from '../parts/words.ts'
import { type ControlProps, FieldControl } from './field-control.tsx'
import { emptyValue, isGroup } from './record.ts'

/** The items of a list: put in, taken out, moved by mouse and by keyboard. */
export function ListControl({ id, name, field, path, value, onChange, isReadOnly }: ControlProps) {
  const { item } = field
  const items: readonly unknown[] = Array.isArray(value) ? value : value === undefined || value === null ? [] : [value]
  const keys = useItemKeys(items.length)
  const [dragged, setDragged] = useState<number>()
  const holder = useRef<HTMLDivElement>(null)
  if (!item) return null
  if (item.words && field.options.uniqueItems !== false && item.kind === 'choice' && item.words.length <= MOST_WORDS)
    return <WordsControl {...{ id, field, item, items, isReadOnly, onChange }} />
  const set = (next: readonly unknown[]): void => onChange(next.length === 0 && isLeftOut(field) ? undefined : next)
  const move = (from: number, to: number): void => {
    if (to < 0 || to >= items.length || from === to) return
    keys.move(from, to)
    set(moved(items, from, to))
  }
  const focusMove = (at: number, up: boolean): void => {
    const focus = () => holder.current?.querySelector<HTMLElement>(`[data-move="${at}-${up ? 'up' : 'down'}"]`)?.focus()
    requestAnimationFrame(focus)
  }
  const add = (block?: string): void => {
    const { blocks } = item
    set([...items, blocks && block !== undefined ? { [blocks.key]: block } : emptyValue(item)])
  }
  return (
    <div ref={holder} className="items">
      {items.map((one, at) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: what is dropped here is moved by buttons too.
        <div
          key={keys.of(at)}
          className={dragged === at ? 'item dragged' : 'item'}
          onDragOver={(event) => {
            if (dragged === undefined) return
            event.preventDefault()
            if (dragged !== at) {
              move(dragged, at)
              setDragged(at)
            }
          }}
          onDrop={(event) => event.preventDefault()}
        >
          <span
            className="grip"
            aria-hidden
            draggable={!isReadOnly}
            onDragStart={(event) => {
              event.dataTransfer.effectAllowed = 'move'
              event.dataTransfer.setData('text/plain', String(at))
              setDragged(at)
            }}
            onDragEnd={() => setDragged(undefined)}
          >
            <GripVertical size={14} />
          </span>
          <div className="item-body">
            <FieldControl
              field={{ ...item, need: 'required' }}
              label={`${at + 1}${summaryOf(one)}`}
              name={`${name} ${at + 1}`}
              path={[...path, at]}
              value={one}
              onChange={(next) =>
                set(items.map((other, position) => (position === at ? (next ?? emptyValue(item)) : other)))
              }
            />
          </div>
          <span className="item-tools">
            <Button
              className="icon"
              aria-label={`Move item ${at + 1} up`}
              data-move={`${at}-up`}
              isDisabled={isReadOnly || at === 0}
              onPress={() => {
                move(at, at - 1)
                focusMove(at - 1, at - 1 > 0)
              }}
            >
              <ArrowUp size={14} />
            </Button>
            <Button
              className="icon"
              aria-label={`Move item ${at + 1} down`}
              data-move={`${at}-down`}
              isDisabled={isReadOnly || at === items.length - 1}
              onPress={() => {
                move(at, at + 1)
                focusMove(at + 1, at + 1 === items.length - 1)
              }}
            >
              <ArrowDown size={14} />
            </Button>
            <Button
              className="icon"
              aria-label={`Take item ${at + 1} out`}
              isDisabled={isReadOnly}
              onPress={() => {
                keys.remove(at)
                set(items.filter((_, position) => position !== at))
              }}
            >
              <Trash2 size={14} />
            </Button>
          </span>
        </div>
      ))}
      <span className="pair">
        {item.blocks ? (
          item.blocks.names.map((name) => (
            <Button key={name} className="button small" isDisabled={isReadOnly} onPress={() => add(name)}>
              <Plus size={13} aria-hidden /> {name}
            </Button>
          ))
        ) : (
          <Button className="button small" id={id} isDisabled={isReadOnly} onPress={() => add()}>
            <Plus size={13} aria-hidden /> Add
          </Button>
        )}
      </span>
    </div>
  )
}

/** A list with more words is one of controls. */
const MOST_WORDS = 12

/** True for a list that is left out where it is empty. */
const isLeftOut = ({ need, default: absent }: FieldModel): boolean =>
  need === 'optional' || (need === 'default' && JSON.stringify(absent) === '[]')

function moved(items: readonly unknown[], from: number, to: number): readonly unknown[] {
  const left = items.filter((_, at) => at !== from)
  return [...left.slice(0, to), items[from], ...left.slice(to)]
}

/** What a group in a list is about, by its first text. */
function summaryOf(value: unknown): string {
  if (!isGroup(value)) return ''
  const first = Object.values(value).find((one) => typeof one === 'string' && one !== '')
  return first === undefined ? '' : ` · ${valueWords(first).slice(0, 50)}`
}

/** Names for the items of a list that go with them where they are moved. */
function useItemKeys(length: number) {
  const names = useRef<number[]>([])
  const next = useRef(0)
  while (names.current.length < length) names.current.push(next.current++)
  names.current.length = length
  return {
    of: (at: number): number => names.current[at] ?? at,
    move(from: number, to: number): void {
      const [name] = names.current.splice(from, 1)
      if (name !== undefined) names.current.splice(to, 0, name)
    },
    remove(at: number): void {
      names.current.splice(at, 1)
    },
  }
}

/** A list of a few words, each there or not. */
function WordsControl({
  id,
  field,
  item,
  items,
  isReadOnly,
  onChange,
}: Pick<ControlProps, 'id' | 'field' | 'isReadOnly' | 'onChange'> & {
  readonly item: FieldModel
  readonly items: readonly unknown[]
}) {
  const words = item.words ?? []
  const toggle = (word: string, isThere: boolean): void => {
    const next = isThere ? [...items, word] : items.filter((one) => one !== word)
    onChange(next.length === 0 && isLeftOut(field) ? undefined : next)
  }
  const unknown = items.filter((one) => !words.some(({ value }) => value === one)).map(String)
  return (
    <div className="word-list" id={id}>
      {[...words, ...unknown.map((value) => ({ value, label: `${value} (unknown)` }))].map(({ value, label }) => (
        <label key={value}>
          <input
            type="checkbox"
            disabled={isReadOnly}
            checked={items.includes(value)}
            onChange={(event) => toggle(value, event.target.checked)}
          />
          <span>{label}</span>
        </label>
      ))}
    </div>
  )
}
