import type { AnswerParts, RowsQuestion } from 'zinc-pantry/inspect'
import { useLater } from '../parts/use-later.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import { itemOf, type NamedField } from '../site/model.ts'
import { useCall } from '../site/use-call.ts'
import { filterKindOf, rangeInputOf } from './filter-condition.ts'

type Facet = Extract<AnswerParts, { readonly facets: unknown }>['facets'][number]

const MOST_VALUES = 12
const ROWS_MS = 60

/** Filters by the kinds of fields: values with their counts, ranges, and whether there is a value. */
export function Filters({
  question,
  fields,
}: {
  readonly question: RowsQuestion
  readonly fields: readonly NamedField[]
}) {
  const kinds = fields.flatMap((one) => {
    const kind = filterKindOf(one.field)
    return kind === undefined || one.path.split('.').length > 2 ? [] : [{ ...one, kind }]
  })
  const counted = kinds.filter(({ kind }) => kind === 'values').map(({ path }) => path)
  // The rows come first: they are what somebody waits for.
  const asked = useLater({ ...question, facets: counted.join(',') }, ROWS_MS)
  const { answer } = useCall('answer', asked, { keepsLast: true })
  const facets = answer && 'facets' in answer ? answer.facets : []
  return (
    <div className="filter-list">
      {kinds.map((one) => (
        <details key={one.path} open={one.kind === 'values'}>
          <summary>{one.field.label ?? one.path}</summary>
          {one.kind === 'values' ? (
            <Values field={one} facet={facets.find(({ name }) => name === one.path)} />
          ) : one.kind === 'range' ? (
            <Range field={one} />
          ) : null}
          {one.field.need === 'optional' ? <Presence field={one} /> : null}
        </details>
      ))}
    </div>
  )
}

function Values({ field: { path, field }, facet }: { readonly field: NamedField; readonly facet: Facet | undefined }) {
  const { values } = useAddress()
  const chosen = values.getAll(`f.${path}`)
  const words = itemOf(field).words
  const counts = facet?.counts ?? []
  const missing = chosen.filter((one) => !counts.some(({ value }) => String(value) === one))
  const listed = [
    ...counts.map(({ value, count, label }) => ({ value: String(value), count, label })),
    ...missing.map((value) => ({ value, count: 0, label: undefined })),
  ]
  const shown = listed.filter(({ value }, at) => at < MOST_VALUES || chosen.includes(value))
  if (facet && listed.length === 0) return <p className="quiet">No values</p>
  return (
    <ul>
      {shown.map(({ value, count, label }) => (
        <li key={value}>
          <label>
            <input
              type="checkbox"
              checked={chosen.includes(value)}
              onChange={(event) =>
                changeAddress({
                  [`f.${path}`]: event.target.checked ? [...chosen, value] : chosen.filter((one) => one !== value),
                })
              }
            />
            <span>{label ?? words?.find((one) => one.value === value)?.label ?? flagWords(value)}</span>
            <span className="count">{count.toLocaleString('en-GB')}</span>
          </label>
        </li>
      ))}
      {listed.length > shown.length ? <li className="quiet">and {listed.length - shown.length} more</li> : null}
    </ul>
  )
}

const flagWords = (value: string): string => (value === 'true' ? 'yes' : value === 'false' ? 'no' : value)

function Range({ field: { path, field } }: { readonly field: NamedField }) {
  const { values } = useAddress()
  return (
    <div className="range">
      {(['min', 'max'] as const).map((bound) => (
        <label key={bound}>
          <span>{bound === 'min' ? 'from' : 'to'}</span>
          <input
            type={rangeInputOf(field)}
            step="any"
            value={values.get(`${bound}.${path}`) ?? ''}
            onChange={(event) => changeAddress({ [`${bound}.${path}`]: event.target.value })}
          />
        </label>
      ))}
    </div>
  )
}

function Presence({ field: { path, field } }: { readonly field: NamedField }) {
  const { values } = useAddress()
  const name = `has.${path}`
  return (
    <label className="presence">
      <span className="hidden-text">Whether there is {field.label ?? path}</span>
      <select value={values.get(name) ?? ''} onChange={(event) => changeAddress({ [name]: event.target.value })}>
        <option value="">with or without</option>
        <option value="yes">with a value</option>
        <option value="no">without one</option>
      </select>
    </label>
  )
}
