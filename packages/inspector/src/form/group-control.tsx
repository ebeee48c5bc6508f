import { Button } from 'react-aria-components/Button'
import type { ControlProps } from './field-control.tsx'
import { FieldsForm } from './fields-form.tsx'
import { isGroup } from './record.ts'

/** The fields of a group; one that may be left out is begun and taken away as a whole. */
export function GroupControl({ field, path, value, onChange, isReadOnly }: ControlProps) {
  const isThere = isGroup(value)
  if (!isThere && field.need === 'optional')
    return (
      <Button className="button small" isDisabled={isReadOnly} onPress={() => onChange({})}>
        Fill it in
      </Button>
    )
  return (
    <>
      <FieldsForm
        fields={field.fields ?? []}
        record={isThere ? value : {}}
        path={path}
        onChange={(record) => onChange(Object.keys(record).length === 0 && !isThere ? undefined : record)}
      />
      {field.need === 'optional' ? (
        <Button className="plain" isDisabled={isReadOnly} onPress={() => onChange(undefined)}>
          Leave it out
        </Button>
      ) : null}
    </>
  )
}
