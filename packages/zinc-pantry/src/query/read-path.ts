import { readStep } from '../values/steps.ts'

/** The value at a path within an entry; null where the way ends early. */
export function readPath(value: unknown, path: readonly string[]): unknown {
  let at = value
  for (const name of path) {
    if (at === null || at === undefined) return null
    at = readStep(at, name)
  }
  return at ?? null
}
