import type { FieldModel } from 'zinc-pantry/inspect'
import { FieldControl } from './field-control.tsx'
import { fieldsOfShape, type Group, type Step, withKey } from './record.ts'

/** The controls of a set of fields, by their headings. */
export function FieldsForm({
  fields,
  record,
  path,
  onChange,
}: {
  readonly fields: readonly FieldModel[]
  readonly record: Group
  readonly path: readonly Step[]
  readonly onChange: (record: Group) => void
}) {
  const shown = fieldsOfShape(fields, record).filter(({ need }) => need !== 'computed')
  const sections = [...new Set(['', ...shown.map(({ section = '' }) => section)])]
  const known = new Set(shown.flatMap((field) => (field.takesRest ? [] : [field.key])))
  return (
    <>
      {sections.map((section) => {
        const own = shown.filter((field) => (field.section ?? '') === section)
        if (own.length === 0) return null
        return (
          <div key={section} className="form-section">
            {section === '' ? null : <h2 className="minor">{section}</h2>}
            {own.map((field) =>
              field.takesRest ? (
                <FieldControl
                  key={field.key}
                  field={{ ...field, takesRest: undefined } as never}
                  path={path}
                  value={Object.fromEntries(Object.entries(record).filter(([key]) => !known.has(key)))}
                  onChange={(rest) =>
                    onChange({
                      ...Object.fromEntries(Object.entries(record).filter(([key]) => known.has(key))),
                      ...((rest as Group | undefined) ?? {}),
                    })
                  }
                />
              ) : (
                <FieldControl
                  key={field.key}
                  field={field}
                  path={[...path, field.key]}
                  value={record[field.key]}
                  onChange={(value) => onChange(withKey(withoutShape(record, field, value), field.key, value))}
                />
              ),
            )}
          </div>
        )
      })}
    </>
  )
}

/** A record without what only the shape has that it is no more. */
function withoutShape(record: Group, { key, variants }: FieldModel, next: unknown): Group {
  const last = variants?.find(({ name }) => name === record[key])
  if (!last || next === record[key]) return record
  const kept = new Set(variants?.find(({ name }) => name === next)?.fields.map((field) => field.key))
  const gone = last.fields.filter((field) => !kept.has(field.key))
  return gone.reduce((left, field) => withKey(left, field.key, undefined), record)
}
