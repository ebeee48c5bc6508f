import { setOwn } from '../diagnostics/own-key.ts'
import type { Step } from '../schema/field.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** An entry without the values of some of its references, which lead nowhere, or to what is not to be seen. */
export function clearReferences<One extends Pick<LinkedEntry, 'data' | 'properties'>>(
  entry: One,
  paths: readonly (readonly Step[])[],
): One {
  let data: unknown = entry.data
  let properties: unknown = entry.properties
  for (const path of paths) {
    // Blocks of a body stand beside the data, under their numbers.
    if (path[0] === 'body' && typeof path[1] === 'number') properties = clearAt(properties, path.slice(1))
    else data = clearAt(data, path)
  }
  return { ...entry, data, properties }
}

/** A value with null at a path; where the path leads nowhere, the value itself. */
function clearAt(value: unknown, [step, ...rest]: readonly Step[]): unknown {
  if (step === undefined) return null
  if (typeof value !== 'object' || value === null || !Object.hasOwn(value, step)) return value
  if (Array.isArray(value)) return value.map((item, at) => (at === step ? clearAt(item, rest) : item))
  const cleared: Record<string, unknown> = { ...value }
  setOwn(cleared, String(step), clearAt((value as Record<string, unknown>)[step], rest))
  return cleared
}
