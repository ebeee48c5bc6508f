import { useEffect, useRef, useState } from 'react'
import { changeAddress, useAddress } from './address.ts'

/** A value of the address that somebody types: it comes to the address once the typing rests, and follows it where that changes by itself. */
export function useTyped(name: string, restMs: number): readonly [text: string, change: (text: string) => void] {
  const given = useAddress().values.get(name) ?? ''
  const [text, setText] = useState(given)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => {
    // What was typed before counts no more.
    clearTimeout(timer.current)
    setText((last) => (last.trim() === given.trim() ? last : given))
  }, [given])
  useEffect(() => () => clearTimeout(timer.current), [])
  const change = (next: string): void => {
    setText(next)
    clearTimeout(timer.current)
    timer.current = setTimeout(() => {
      const isStill = (new URLSearchParams(window.location.search).get(name) ?? '') === given
      // Where the address was changed meanwhile, that is what somebody wants.
      if (isStill) changeAddress({ [name]: next.trim() })
    }, restMs)
  }
  return [text, change]
}
