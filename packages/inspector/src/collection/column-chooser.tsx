import { Columns3 } from 'lucide-react'
import { Button } from 'react-aria-components/Button'
import { Dialog, DialogTrigger } from 'react-aria-components/Dialog'
import { Popover } from 'react-aria-components/Popover'
import { changeAddress } from '../site/address.ts'
import type { NamedField } from '../site/model.ts'

/** Chooses the columns of a table. */
export function ColumnChooser({
  fields,
  chosen,
}: {
  readonly fields: readonly NamedField[]
  readonly chosen: readonly string[]
}) {
  const toggle = (path: string, isChosen: boolean): void => {
    const next = isChosen ? [...chosen, path] : chosen.filter((one) => one !== path)
    changeAddress({ columns: next.join(',') })
  }
  return (
    <DialogTrigger>
      <Button className="button">
        <Columns3 size={14} aria-hidden /> Columns
      </Button>
      <Popover className="popover" placement="bottom end">
        <Dialog aria-label="Columns" className="column-list">
          <Button className="plain" onPress={() => changeAddress({ columns: undefined })}>
            The usual ones
          </Button>
          <ul>
            {['id', 'slug'].map((path) => (
              <Entry key={path} path={path} kind="" isChosen={chosen.includes(path)} onToggle={toggle} />
            ))}
            {fields.map(({ path, field }) => (
              <Entry key={path} path={path} kind={field.kind} isChosen={chosen.includes(path)} onToggle={toggle} />
            ))}
          </ul>
        </Dialog>
      </Popover>
    </DialogTrigger>
  )
}

const Entry = ({
  path,
  kind,
  isChosen,
  onToggle,
}: {
  readonly path: string
  readonly kind: string
  readonly isChosen: boolean
  readonly onToggle: (path: string, isChosen: boolean) => void
}) => (
  <li style={{ paddingInlineStart: (path.split('.').length - 1) * 14 }}>
    <label>
      <input type="checkbox" checked={isChosen} onChange={(event) => onToggle(path, event.target.checked)} />
      <span>{path.split('.').at(-1)}</span>
      <span className="quiet">{kind}</span>
    </label>
  </li>
)
