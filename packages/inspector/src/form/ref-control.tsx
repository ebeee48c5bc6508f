import { ChevronDown } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { ComboBox } from 'react-aria-components/ComboBox'
import { Input } from 'react-aria-components/Input'
import { ListBox, ListBoxItem } from 'react-aria-components/ListBox'
import { Popover } from 'react-aria-components/Popover'
import type { ChoiceView } from 'zinc-pantry/inspect'
import { Link } from '../parts/link.tsx'
import { Picture } from '../parts/picture.tsx'
import { addressOf } from '../site/address.ts'
import { call, isRefusal } from '../site/calls.ts'
import { useCall } from '../site/use-call.ts'
import type { ControlProps } from './field-control.tsx'

/** An entry that is referred to: picked by typing what it is called. */
export function RefControl({ id, name, describedBy, isInvalid, field, value, onChange, isReadOnly }: ControlProps) {
  const { targets = [], by = 'id' } = field.leadsTo ?? {}
  const text = typeof value === 'string' ? value : value === undefined || value === null ? '' : JSON.stringify(value)
  const [typed, setTyped] = useState<string>()
  const [found, setFound] = useState<readonly ChoiceView[]>([])
  const { answer: named } = useCall('choices', text === '' ? undefined : { targets, by, value: text })
  const current = named?.find((one) => one.value === text)
  // biome-ignore lint/correctness/useExhaustiveDependencies: the targets of a field stay the same.
  useEffect(() => {
    const controller = new AbortController()
    if (typed !== undefined)
      call('choices', { targets, by, text: typed }, controller.signal).then(
        (answer) => setFound(isRefusal(answer) ? [] : answer),
        () => undefined,
      )
    return () => controller.abort()
  }, [typed])
  const shown = typed ?? current?.label ?? text
  return (
    <span className="ref">
      <ComboBox
        aria-label={name}
        className="combo"
        inputValue={shown}
        onInputChange={(next) => {
          if (next !== shown) setTyped(next)
        }}
        items={found}
        selectedKey={null}
        onSelectionChange={(key) => {
          if (key === null) return
          onChange(String(key))
          setTyped(undefined)
        }}
        onOpenChange={(isOpen) => {
          if (isOpen && typed === undefined) setTyped('')
        }}
        onBlur={() => {
          // What names no entry is kept as it is typed: it may be meant to be made.
          if (typed !== undefined && typed !== '' && typed !== current?.label) onChange(typed)
          if (typed === '' && text !== '' && document.activeElement?.id === id) onChange(undefined)
          setTyped(undefined)
        }}
        allowsCustomValue
        allowsEmptyCollection
        menuTrigger="focus"
        isReadOnly={isReadOnly}
        isInvalid={isInvalid}
      >
        <span className="combo-field">
          {current?.picture ? <Picture path={current.picture} alt="" className="thumb" /> : null}
          <Input id={id} aria-describedby={describedBy} />
          <Button className="icon">
            <ChevronDown size={14} />
          </Button>
        </span>
        <Popover className="popover choices">
          <ListBox<ChoiceView> renderEmptyState={() => <span className="quiet">Nothing is called so</span>}>
            {(one) => (
              <ListBoxItem id={one.value} textValue={one.label} className="choice">
                {one.picture ? <Picture path={one.picture} alt="" className="thumb" /> : null}
                <span>{one.label}</span>
                <span className="quiet">{targets.length > 1 ? one.name : one.id}</span>
              </ListBoxItem>
            )}
          </ListBox>
        </Popover>
      </ComboBox>
      {current ? (
        <Link view="entry" values={{ name: current.name }} className="quiet">
          open
        </Link>
      ) : isReadOnly || targets.length !== 1 ? null : (
        <a href={addressOf('new', { name: targets[0] })} target="_blank" rel="noreferrer" className="quiet">
          new
        </a>
      )}
      {text !== '' && !isReadOnly && field.need !== 'required' ? (
        <Button className="plain" onPress={() => onChange(undefined)}>
          Empty
        </Button>
      ) : null}
    </span>
  )
}
