import { useEffect, useState } from 'react'

/** A value a little later, once it has come to rest. */
export function useLater<Value>(value: Value, milliseconds: number): Value {
  const [later, setLater] = useState(value)
  // biome-ignore lint/correctness/useExhaustiveDependencies: values are compared by their text.
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), milliseconds)
    return () => clearTimeout(timer)
  }, [JSON.stringify(value), milliseconds])
  return later
}
