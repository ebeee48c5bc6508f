import { Plus, Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { type ControlProps, FieldControl } from './field-control.tsx'
import { emptyValue, isGroup, withKey } from './record.ts'

/** Values under keys that are written too. */
export function MapControl({ id, field, path, value, onChange, isReadOnly }: ControlProps) {
  const record = isGroup(value) ? value : {}
  const [key, setKey] = useState('')
  const words = field.keys?.words?.filter((one) => !Object.hasOwn(record, one.value))
  const { item } = field
  if (!item) return null
  const add = (): void => {
    if (key === '' || Object.hasOwn(record, key)) return
    onChange({ ...record, [key]: emptyValue(item) })
    setKey('')
  }
  const remove = (own: string): void => {
    const left = withKey(record, own, undefined)
    onChange(Object.keys(left).length === 0 && field.need === 'optional' ? undefined : left)
  }
  return (
    <>
      {Object.entries(record).map(([own, inner]) => (
        <div key={own} className="item">
          <div className="item-body">
            <FieldControl
              field={{ ...item, need: 'optional' }}
              label={own}
              path={[...path, own]}
              value={inner}
              onChange={(next) => onChange({ ...record, [own]: next ?? '' })}
            />
          </div>
          <Button className="icon" aria-label={`Take ${own} out`} isDisabled={isReadOnly} onPress={() => remove(own)}>
            <Trash2 size={14} />
          </Button>
        </div>
      ))}
      <span className="pair">
        {words ? (
          <select aria-label="Key" value={key} disabled={isReadOnly} onChange={(event) => setKey(event.target.value)}>
            <option value="">–</option>
            {words.map((one) => (
              <option key={one.value} value={one.value}>
                {one.label}
              </option>
            ))}
          </select>
        ) : (
          <input
            id={id}
            aria-label="Key"
            placeholder="key"
            className="short"
            value={key}
            readOnly={isReadOnly}
            onChange={(event) => setKey(event.target.value)}
          />
        )}
        <Button className="button small" isDisabled={isReadOnly || key === ''} onPress={add}>
          <Plus size={13} aria-hidden /> Add
        </Button>
      </span>
    </>
  )
}
