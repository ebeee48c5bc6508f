/**
 * Sets a key on a plain object. A plain assignment of `__proto__` would change the prototype of the
 * object and lose the value.
 */
export function setOwn(target: Record<string, unknown>, key: string, value: unknown): void {
  if (key === '__proto__')
    Object.defineProperty(target, key, { value, writable: true, enumerable: true, configurable: true })
  else target[key] = value
}
