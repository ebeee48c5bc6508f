/**
 * Sets a key on a plain object. A plain assignment of `__proto__` would change the prototype of the
 * object and lose the value.
 */
export function setOwn(target: Record<string, unknown>, key: string, value: unknown): void {
  if (key === '__proto__')
    Object.defineProperty(target, key, { value, writable: true, enumerable: true, configurable: true })
  else target[key] = value
}

/** True for a value with keys of its own. */
export const isGroup = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** The value at a path of groups and lists; undefined where it leads nowhere. */
export function valueAt(value: unknown, path: readonly (string | number)[]): unknown {
  let at = value
  for (const step of path) at = (at as Readonly<Record<string | number, unknown>> | null | undefined)?.[step]
  return at
}
