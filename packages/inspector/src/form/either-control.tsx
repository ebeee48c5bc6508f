import { useState } from 'react'
import type { FieldModel } from 'zinc-pantry/inspect'
import { controlOf } from './controls.tsx'
import type { ControlProps } from './field-control.tsx'
import { emptyValue, isGroup } from './record.ts'

/** One of several kinds of value: which one, and its control. */
export function EitherControl(props: ControlProps) {
  const { id, field, value, onChange, isReadOnly } = props
  const alternatives = field.alternatives ?? []
  const [chosen, setChosen] = useState(() => guess(alternatives, value))
  const at = value === undefined ? chosen : fits(alternatives[chosen], value) ? chosen : guess(alternatives, value)
  const own = alternatives[at]
  const Control = own && controlOf(own)
  const choose = (next: number): void => {
    setChosen(next)
    const alternative = alternatives[next]
    onChange(alternative ? emptyValue(alternative) : undefined)
  }
  return (
    <>
      <label className="field-line" htmlFor={`${id}-which`}>
        <span>It is</span>
        <select
          id={`${id}-which`}
          value={value === undefined ? '' : at}
          disabled={isReadOnly}
          onChange={(event) => (event.target.value === '' ? onChange(undefined) : choose(Number(event.target.value)))}
        >
          {field.need === 'required' && value !== undefined ? null : <option value="">left out</option>}
          {alternatives.map((one, position) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: alternatives have no other name.
            <option key={position} value={position}>
              {one.label ?? one.expected}
            </option>
          ))}
        </select>
      </label>
      {own && Control && value !== undefined ? <Control {...props} field={{ ...own, need: 'required' }} /> : null}
    </>
  )
}

const guess = (alternatives: readonly FieldModel[], value: unknown): number =>
  Math.max(
    0,
    alternatives.findIndex((one) => fits(one, value)),
  )

/** True for a field that a value is likely to be of. */
function fits(field: FieldModel | undefined, value: unknown): boolean {
  if (!field) return false
  if (Array.isArray(value)) return field.kind === 'list'
  if (isGroup(value))
    return field.kind === 'group' || field.kind === 'map' || field.kind === 'block' || field.kind === 'image'
  if (typeof value === 'number') return field.kind === 'int' || field.kind === 'number'
  if (typeof value === 'boolean') return field.kind === 'flag'
  return !['list', 'group', 'map', 'block', 'int', 'number', 'flag'].includes(field.kind)
}
