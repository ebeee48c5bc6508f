import { useId } from 'react'
import type { FieldModel, RecordProblem } from 'zinc-pantry/inspect'
import { controlOf, isComposite } from './controls.tsx'
import { useForm } from './form-context.ts'
import { problemsAt, type Step } from './record.ts'

/** What a control of a kind of field is given. */
export interface ControlProps {
  readonly id: string
  /** What it is called, for who cannot see the label beside it. */
  readonly name: string
  /** The ids of its help and of what is wrong with it. */
  readonly describedBy: string | undefined
  readonly isInvalid: boolean
  readonly field: FieldModel
  readonly path: readonly Step[]
  readonly value: unknown
  readonly onChange: (value: unknown) => void
  readonly isReadOnly: boolean
}

/** A field with its label, its help and what is wrong with it. */
export function FieldControl({
  field,
  path,
  value,
  onChange,
  label,
  name,
}: {
  readonly field: FieldModel
  readonly path: readonly Step[]
  readonly value: unknown
  readonly onChange: (value: unknown) => void
  /** The label where it is not that of the field, as of an item. */
  readonly label?: string
  /** What it is called, where the label alone does not say that. */
  readonly name?: string
}) {
  const { problems, isReadOnly } = useForm()
  const id = useId()
  const { own, inside } = problemsAt(problems, path)
  const isDeep = isComposite(field)
  const shown = isDeep ? own : [...own, ...inside]
  const words = label ?? field.label ?? field.name
  const hints = hintsOf(field)
  const describedBy = [hints === '' && !field.help ? '' : `${id}-help`, shown.length > 0 ? `${id}-wrong` : '']
    .filter((one) => one !== '')
    .join(' ')
  const Control = controlOf(field)
  const control = (
    <Control
      {...{ id, field, path, value, onChange, isReadOnly }}
      name={name ?? words}
      describedBy={describedBy === '' ? undefined : describedBy}
      isInvalid={shown.some(({ severity }) => severity === 'error')}
    />
  )
  const marks = <Marks field={field} value={value} />
  const notes = (
    <>
      {field.help || hints !== '' ? (
        <div id={`${id}-help`} className="help">
          {[field.help, hints].filter(Boolean).join(' · ')}
        </div>
      ) : null}
      <Problems id={`${id}-wrong`} problems={shown} />
    </>
  )
  if (isDeep)
    return (
      <fieldset
        className="deep"
        data-path={path.join('.')}
        aria-describedby={describedBy === '' ? undefined : describedBy}
      >
        <legend>
          {words} {marks}
        </legend>
        {notes}
        {control}
      </fieldset>
    )
  return (
    <div className="control" data-path={path.join('.')}>
      <div className="label">
        <label htmlFor={id}>{words}</label> {marks}
      </div>
      {control}
      {notes}
    </div>
  )
}

const Marks = ({
  field: { need, isPrivate, isDeprecated, default: absent },
  value,
}: {
  readonly field: FieldModel
  readonly value: unknown
}) => (
  <>
    {need === 'required' ? <span className="required">required</span> : null}
    {need === 'default' && value === undefined && absent !== undefined && JSON.stringify(absent) !== '[]' ? (
      <span className="quiet">by itself {JSON.stringify(absent)}</span>
    ) : null}
    {isPrivate ? <span className="tag private">private</span> : null}
    {isDeprecated ? <span className="tag">not for new content</span> : null}
  </>
)

const Problems = ({ id, problems }: { readonly id: string; readonly problems: readonly RecordProblem[] }) =>
  problems.length === 0 ? null : (
    <ul id={id} className="wrong">
      {problems.map(({ code, message, help, severity }) => (
        <li key={`${code} ${message}`} className={severity}>
          {message}
          {help ? <span className="quiet"> {help}</span> : null}
        </li>
      ))}
    </ul>
  )

/** The limits of a field in a few words. */
function hintsOf({ options, kind }: FieldModel): string {
  const { minimum, maximum, minLength, maxLength, minItems, maxItems, pattern, zone, kinds } = options
  const range = (low: unknown, high: unknown, what: string): string =>
    low !== undefined && high !== undefined
      ? `${low} to ${high}${what}`
      : low !== undefined
        ? `from ${low}${what}`
        : high !== undefined
          ? `up to ${high}${what}`
          : ''
  return [
    range(minimum, maximum, ''),
    range(minLength, maxLength, ' characters'),
    range(minItems, maxItems, ' items'),
    pattern === undefined ? '' : `like ${pattern}`,
    zone === undefined ? '' : `in the time of ${zone}`,
    Array.isArray(kinds) ? kinds.join(', ') : '',
    kind === 'duration' ? 'as in ISO 8601: PT1H30M, P2D' : '',
  ]
    .filter((one) => one !== '')
    .join(', ')
}
