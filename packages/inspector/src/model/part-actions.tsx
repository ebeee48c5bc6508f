import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { FieldModel } from 'zinc-pantry/inspect'
import { propose } from '../change/propose.ts'
import { itemOf } from '../site/model.ts'
import { useNews } from '../site/news.ts'

/** Changes a part of the model everywhere: its name, whether it is there, and of labels whether they are records. */
export function PartActions({ target, field }: { readonly target: string; readonly field?: FieldModel }) {
  const { status } = useNews()
  const own = target.slice(target.lastIndexOf('.') + 1)
  const [name, setName] = useState(own)
  const [to, setTo] = useState(own)
  if (!status || status.isReadOnly) return null
  const isLabel = field !== undefined && ['text', 'choice'].includes(itemOf(field).kind) && !target.split('.')[2]
  return (
    <div className="actions part-actions">
      <label className="field-line">
        <span>Name</span>
        <input value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <Button
        className="button small"
        isDisabled={name === own || name === ''}
        onPress={() => propose({ title: `Rename ${target}`, request: { kind: 'rename', target, name } })}
      >
        Rename it everywhere
      </Button>
      {isLabel ? (
        <>
          <label className="field-line">
            <span>Collection</span>
            <input value={to} onChange={(event) => setTo(event.target.value)} />
          </label>
          <Button
            className="button small"
            isDisabled={to === ''}
            onPress={() =>
              propose({ title: `Records of ${target}`, request: { kind: 'extract', target, to, same: [] } })
            }
          >
            Make records of its values
          </Button>
        </>
      ) : null}
      <Button
        className="button small danger"
        onPress={() => propose({ title: `Remove ${target}`, request: { kind: 'remove', target } })}
      >
        Remove it everywhere
      </Button>
    </div>
  )
}
