import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { CollectionView, FieldModel } from 'zinc-pantry/inspect'
import { propose } from '../change/propose.ts'
import { plural } from '../parts/words.ts'
import { itemOf } from '../site/model.ts'
import { quote } from './filter-condition.ts'

/** Changes the chosen entries together. */
export function BulkBar({
  collection,
  ids,
  canWrite,
  onDone,
}: {
  readonly collection: CollectionView
  readonly ids: ReadonlySet<string>
  readonly canWrite: boolean
  readonly onDone: () => void
}) {
  const fields = collection.fields.filter((field) => field.need !== 'computed' && isPlain(field))
  const [name, setName] = useState(fields[0]?.name ?? '')
  const [text, setText] = useState('')
  const field = fields.find((one) => one.name === name)
  const where = `id in (${[...ids].map(quote).join(', ')})`
  const set = (kind: 'set' | 'unset' | 'add' | 'remove', path: string, value: string): void =>
    propose({
      title: `${plural(ids.size, 'entry', 'entries')} of ${collection.name}`,
      request: { kind: 'set', collection: collection.name, where, assignments: [{ path: [path], kind, text: value }] },
      onMade: onDone,
    })
  const words = field && (itemOf(field).words ?? (itemOf(field).kind === 'flag' ? FLAGS : undefined))
  return (
    <section className="bulk" aria-label="Chosen entries">
      <strong>{plural(ids.size, 'entry', 'entries')} chosen</strong>
      {canWrite ? (
        <>
          <label className="field-line">
            <span>Field</span>
            <select value={name} onChange={(event) => setName(event.target.value)}>
              {fields.map((one) => (
                <option key={one.name}>{one.name}</option>
              ))}
            </select>
          </label>
          <div className="field-line">
            <span aria-hidden>Value</span>
            {words ? (
              <select aria-label="Value" value={text} onChange={(event) => setText(event.target.value)}>
                <option value="">–</option>
                {words.map((one) => (
                  <option key={one.value} value={one.value}>
                    {one.label}
                  </option>
                ))}
              </select>
            ) : (
              <input aria-label="Value" value={text} onChange={(event) => setText(event.target.value)} />
            )}
          </div>
          {field?.kind === 'list' ? (
            <>
              <Button className="button" isDisabled={text === ''} onPress={() => set('add', name, text)}>
                Add
              </Button>
              <Button className="button" isDisabled={text === ''} onPress={() => set('remove', name, text)}>
                Take out
              </Button>
            </>
          ) : (
            <Button className="button" isDisabled={text === ''} onPress={() => set('set', name, text)}>
              Set
            </Button>
          )}
          <Button className="button" isDisabled={field?.need === 'required'} onPress={() => set('unset', name, '')}>
            Empty
          </Button>
          {collection.draft === undefined ? null : (
            <>
              <Button className="button" onPress={() => set('set', collection.draft ?? '', 'false')}>
                Publish
              </Button>
              <Button className="button" onPress={() => set('set', collection.draft ?? '', 'true')}>
                Make drafts
              </Button>
            </>
          )}
        </>
      ) : null}
      <Button className="plain" onPress={onDone}>
        Choose none
      </Button>
    </section>
  )
}

const FLAGS = [
  { value: 'true', label: 'yes' },
  { value: 'false', label: 'no' },
]

const isPlain = (field: FieldModel): boolean =>
  !['group', 'block', 'map', 'anything', 'variant', 'either'].includes(itemOf(field).kind)
