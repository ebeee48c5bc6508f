import type { ControlProps } from './field-control.tsx'
import { FieldsForm } from './fields-form.tsx'
import { useForm } from './form-context.ts'
import { blockFields, isGroup, withKey } from './record.ts'

/** The key that leaves a block out without deleting it. */
const OFF = 'off'

/** A block: which one it is, whether it is switched off, and its fields. */
export function BlockControl({ id, field, path, value, onChange, isReadOnly }: ControlProps) {
  const { model } = useForm()
  const { names, key } = field.blocks ?? { names: [], key: 'block' }
  const record = isGroup(value) ? value : {}
  const name = typeof record[key] === 'string' ? record[key] : ''
  const isUnknown = name !== '' && !names.includes(name)
  return (
    <>
      <div className="block-head">
        <label className="field-line" htmlFor={id}>
          <span>Block</span>
          <select
            id={id}
            value={name}
            disabled={isReadOnly}
            onChange={(event) => onChange({ [key]: event.target.value, ...withoutKey(record, key) })}
          >
            {name === '' ? <option value="">–</option> : null}
            {isUnknown ? <option value={name}>{name} (unknown)</option> : null}
            {names.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        <label className="field-line">
          <input
            type="checkbox"
            disabled={isReadOnly}
            checked={record[OFF] === true}
            onChange={(event) => onChange(withKey(record, OFF, event.target.checked ? true : undefined))}
          />
          <span>switched off</span>
        </label>
      </div>
      <FieldsForm fields={blockFields(model, name)} record={record} path={path} onChange={onChange} />
    </>
  )
}

const withoutKey = (record: Readonly<Record<string, unknown>>, key: string) =>
  Object.fromEntries(Object.entries(record).filter(([own]) => own !== key))
