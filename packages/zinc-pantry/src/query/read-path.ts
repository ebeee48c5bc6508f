import { readStep } from '../values/steps.ts'
import { loadComputation } from './load-computation.ts'

/** The value at a path within an entry; null where the way ends early. */
export function readPath(value: unknown, path: readonly string[]): unknown {
  let at = value
  for (const name of path) {
    if (at === null || at === undefined) return null
    at = readStep(at, name)
  }
  return at ?? null
}

/** Makes what reads the value at a path, also where the last step computes one. */
export async function createReader(path: readonly string[]): Promise<(value: unknown) => unknown> {
  const compute = await loadComputation(path.at(-1))
  const before = path.slice(0, -1)
  return compute ? (value) => compute(readPath(value, before)) : (value) => readPath(value, path)
}
