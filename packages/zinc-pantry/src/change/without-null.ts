import { isGroup } from '../diagnostics/own-key.ts'

/** A copy of data without what has no value, at any depth: what has no word for that, as TOML, has no key either. */
export function withoutNull(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutNull)
  if (!isGroup(value)) return value
  return Object.fromEntries(
    Object.entries(value).flatMap(([key, inner]) =>
      inner === null || inner === undefined ? [] : [[key, withoutNull(inner)]],
    ),
  )
}
