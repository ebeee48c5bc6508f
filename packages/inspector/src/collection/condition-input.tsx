import { useId, useRef, useState } from 'react'
import type { CallAnswer } from 'zinc-pantry/inspect'
import { call } from '../site/calls.ts'
import { useTyped } from '../site/use-typed.ts'

type Completion = Extract<CallAnswer<'complete'>, { readonly options: unknown }>

const TYPING_MS = 250

/** A condition in its text form, which stands in the address. */
export function ConditionInput({ collection }: { readonly collection: string }) {
  const [text, setText] = useTyped('where', TYPING_MS)
  return (
    <div className="field-line grow">
      <span aria-hidden>Condition</span>
      <ConditionText collection={collection} text={text} onChange={setText} />
    </div>
  )
}

/** The text of a condition, with what may come next below it. */
export function ConditionText({
  collection,
  text,
  onChange,
  placeholder = 'beds >= 20 and region.name = "North Fell"',
}: {
  readonly collection: string
  readonly text: string
  readonly onChange: (text: string) => void
  readonly placeholder?: string
}) {
  const input = useRef<HTMLInputElement>(null)
  const [found, setFound] = useState<Completion>()
  const [active, setActive] = useState(0)
  const id = useId()
  /** The number of the last question; an answer to one before it, or to one that was taken back, comes too late. */
  const asked = useRef(0)
  const close = (): void => {
    asked.current++
    setFound(undefined)
  }
  const ask = (): void => {
    const number = ++asked.current
    const at = input.current?.selectionStart ?? 0
    const show = (completion: Completion | undefined): void => {
      if (number !== asked.current) return
      setFound(completion)
      setActive(0)
    }
    call('complete', { collection, text: input.current?.value ?? '', at }).then(
      (answer) => show('options' in answer && answer.options.length > 0 ? answer : undefined),
      () => show(undefined),
    )
  }
  const accept = (option: Completion['options'][number]): void => {
    if (!found) return
    const next = text.slice(0, found.start) + option.text + text.slice(found.end)
    onChange(next)
    const caret = found.start + option.text.length
    requestAnimationFrame(() => {
      // Somebody who types goes on meanwhile.
      if (input.current?.value !== next) return
      input.current.setSelectionRange(caret, caret)
      ask()
    })
  }
  const options = found?.options ?? []
  return (
    <span className="completed">
      <input
        ref={input}
        value={text}
        spellCheck={false}
        autoComplete="off"
        role="combobox"
        aria-label="Condition"
        aria-expanded={options.length > 0}
        aria-controls={id}
        aria-autocomplete="list"
        aria-activedescendant={options.length > 0 ? `${id}-${active}` : undefined}
        placeholder={placeholder}
        onChange={(event) => {
          onChange(event.target.value)
          ask()
        }}
        onFocus={ask}
        onBlur={close}
        onKeyDown={(event) => {
          const option = options[active]
          if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
            if (options.length === 0) return ask()
            event.preventDefault()
            setActive((active + (event.key === 'ArrowDown' ? 1 : options.length - 1)) % options.length)
          } else if ((event.key === 'Enter' || event.key === 'Tab') && option && found && found.end > found.start) {
            event.preventDefault()
            accept(option)
          } else if (event.key === 'Escape') {
            if (options.length > 0) event.preventDefault()
            close()
          }
        }}
      />
      <ul id={id} role="listbox" aria-label="What may come next" hidden={options.length === 0}>
        {options.map((option, at) => (
          <li
            key={option.text}
            id={`${id}-${at}`}
            role="option"
            aria-selected={at === active}
            onMouseDown={(event) => {
              event.preventDefault()
              accept(option)
            }}
          >
            <span>{option.label ?? option.text}</span>
            <span className="quiet">{option.words}</span>
          </li>
        ))}
      </ul>
    </span>
  )
}
