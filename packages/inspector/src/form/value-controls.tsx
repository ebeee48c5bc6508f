import { useEffect, useState } from 'react'
import type { FieldModel } from 'zinc-pantry/inspect'
import type { ControlProps } from './field-control.tsx'

/** The attributes that all inputs have. */
const attributesOf = ({ id, describedBy, isInvalid, isReadOnly }: ControlProps) => ({
  id,
  'aria-describedby': describedBy,
  'aria-invalid': isInvalid || undefined,
  readOnly: isReadOnly,
})

/** What is typed: nothing is no value. */
const given = (text: string): string | undefined => (text === '' ? undefined : text)

/** A text on one line or on several. */
export function TextControl(props: ControlProps) {
  const { field, value, onChange } = props
  const { lines, maxLength } = field.options
  const text = textOf(value)
  const isLong = lines !== 'single' && (text.includes('\n') || (typeof maxLength === 'number' && maxLength > 90))
  const example = field.examples?.[0]
  const placeholder = example === undefined ? undefined : String(example)
  return isLong ? (
    <textarea
      {...attributesOf(props)}
      rows={2}
      value={text}
      placeholder={placeholder}
      onChange={(event) => onChange(given(event.target.value))}
    />
  ) : (
    <input
      {...attributesOf(props)}
      value={text}
      placeholder={placeholder}
      onChange={(event) => onChange(given(event.target.value))}
    />
  )
}

const textOf = (value: unknown): string =>
  value === undefined || value === null ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value)

const TYPES: Readonly<Record<string, string>> = { date: 'date', time: 'time', url: 'url', email: 'email' }
const FORMS: Readonly<Record<string, RegExp>> = {
  date: /^\d{4}-\d\d-\d\d$/,
  time: /^\d\d:\d\d$/,
  local: /^\d{4}-\d\d-\d\dT\d\d:\d\d$/,
}

/** The type of input that shows a value without losing anything of it. */
function inputType({ kind, options }: FieldModel, text: string): string {
  const type = kind === 'instant' && options.zone !== undefined ? 'datetime-local' : (TYPES[kind] ?? 'text')
  const form = type === 'datetime-local' ? FORMS.local : FORMS[type]
  return text === '' || form === undefined || form.test(text) ? type : 'text'
}

/** A number, a date, a time or an address. What is no number is kept as it is typed, and told as wrong. */
export function InputControl(props: ControlProps) {
  const { field, value, onChange } = props
  const isNumber = field.kind === 'int' || field.kind === 'number'
  const [typed, setTyped] = useState(textOf(value))
  const text = textOf(value)
  // biome-ignore lint/correctness/useExhaustiveDependencies: `1.` and `1.0` are the same number while it is typed.
  useEffect(() => {
    if (!isNumber || Number(typed) !== value) setTyped(text)
  }, [text])
  const change = (next: string): void => {
    setTyped(next)
    const number = Number(next)
    onChange(isNumber && next.trim() !== '' && !Number.isNaN(number) ? number : given(next))
  }
  const { minimum, maximum } = field.options
  return (
    <input
      {...attributesOf(props)}
      className={
        isNumber ? 'short number' : ['date', 'time', 'instant', 'duration'].includes(field.kind) ? 'short' : ''
      }
      type={isNumber ? 'text' : inputType(field, text)}
      inputMode={isNumber ? 'decimal' : undefined}
      min={typeof minimum === 'string' ? minimum : undefined}
      max={typeof maximum === 'string' ? maximum : undefined}
      value={isNumber ? typed : text}
      placeholder={field.examples?.[0] === undefined ? undefined : String(field.examples[0])}
      onChange={(event) => change(event.target.value)}
    />
  )
}

/** Yes or no; where it may be left out, that too. */
export function FlagControl(props: ControlProps) {
  const { field, value, onChange, isReadOnly } = props
  const { true: yes, false: no } = field.options as {
    readonly true?: readonly string[]
    readonly false?: readonly string[]
  }
  const isOn = value === true || (typeof value === 'string' && yes?.includes(value) === true)
  const isOff = value === false || (typeof value === 'string' && no?.includes(value) === true)
  const { readOnly: _, ...attributes } = attributesOf(props)
  if (field.need === 'optional' || (!isOn && !isOff && value !== undefined))
    return (
      <select
        {...attributes}
        className="short"
        disabled={isReadOnly}
        value={isOn ? 'yes' : isOff ? 'no' : ''}
        onChange={({ target }) => onChange(target.value === '' ? undefined : target.value === 'yes')}
      >
        <option value="">–</option>
        <option value="yes">yes</option>
        <option value="no">no</option>
      </select>
    )
  const isSwitchedOn = isOn || (value === undefined && field.default === true)
  return (
    <input
      {...attributes}
      type="checkbox"
      role="switch"
      className="switch"
      disabled={isReadOnly}
      checked={isSwitchedOn}
      aria-checked={isSwitchedOn}
      onChange={(event) => onChange(event.target.checked)}
    />
  )
}

/** One of a few words. */
export function ChoiceControl(props: ControlProps) {
  const { field, value, onChange, isReadOnly } = props
  const words = field.words ?? []
  const text = textOf(value)
  const { readOnly: _, ...attributes } = attributesOf(props)
  return (
    <select
      {...attributes}
      className="short"
      disabled={isReadOnly}
      value={text}
      onChange={(event) => onChange(given(event.target.value))}
    >
      <option value="">{field.need === 'default' ? `– (${textOf(field.default)})` : '–'}</option>
      {words.some((one) => one.value === text) || text === '' ? null : <option value={text}>{text} (unknown)</option>}
      {words.map((one) => (
        <option key={one.value} value={one.value}>
          {one.label}
        </option>
      ))}
    </select>
  )
}

/** A colour, chosen or written. */
export function ColourControl(props: ControlProps) {
  const { name, field, value, onChange, isReadOnly } = props
  const text = textOf(value)
  const plain = /^#[\da-f]{6}$/i.test(text)
    ? text
    : /^#[\da-f]{6}$/i.test(textOf(field.default))
      ? textOf(field.default)
      : '#888888'
  return (
    <span className="pair">
      <input
        type="color"
        aria-label={`${name}, chosen`}
        value={plain}
        disabled={isReadOnly}
        onChange={(event) => onChange(event.target.value)}
      />
      <input
        {...attributesOf(props)}
        className="short"
        value={text}
        placeholder={textOf(field.default)}
        onChange={(event) => onChange(given(event.target.value))}
      />
    </span>
  )
}

/** What a validator of another library takes: mostly a text. */
export const ValidatorControl = (props: ControlProps) =>
  props.value === undefined || typeof props.value === 'string' ? <TextControl {...props} /> : <DataControl {...props} />

/** What may be anything: data as JSON. */
export function DataControl(props: ControlProps) {
  const { value, onChange } = props
  const written = value === undefined ? '' : JSON.stringify(value, null, 2)
  const [text, setText] = useState(written)
  const [isWrong, setWrong] = useState(false)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed stays until the value is another one.
  useEffect(() => {
    if (!isWrong && compact(text) !== compact(written)) setText(written)
  }, [written])
  const change = (next: string): void => {
    setText(next)
    if (next.trim() === '') {
      setWrong(false)
      onChange(undefined)
      return
    }
    try {
      onChange(JSON.parse(next))
      setWrong(false)
    } catch {
      setWrong(true)
    }
  }
  return (
    <>
      <textarea
        {...attributesOf(props)}
        className="code"
        rows={Math.min(10, text.split('\n').length + 1)}
        spellCheck={false}
        value={text}
        aria-invalid={isWrong || undefined}
        onChange={(event) => change(event.target.value)}
      />
      {isWrong ? <div className="wrong error">This is no JSON yet; the last that was stays</div> : null}
    </>
  )
}

const compact = (text: string): string => {
  try {
    return JSON.stringify(JSON.parse(text))
  } catch {
    return text
  }
}
