import type { FieldModel } from 'zinc-pantry/inspect'
import { Cell } from '../collection/cell.tsx'

/** What is computed of an entry, and cannot be written. */
export function ComputedValues({
  fields,
  values,
}: {
  readonly fields: readonly FieldModel[]
  readonly values: Readonly<Record<string, unknown>>
}) {
  const computed = fields.filter(({ need }) => need === 'computed')
  if (computed.length === 0) return null
  return (
    <section className="computed">
      <h2 className="minor">Computed</h2>
      <dl>
        {computed.map((field) => (
          <div key={field.name}>
            <dt>
              {field.label ?? field.name} {field.isPrivate ? <span className="tag private">private</span> : null}
            </dt>
            <dd>
              <Cell value={values[field.name]} field={field} />
            </dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
