import { setOwn } from '../diagnostics/own-key.ts'
import type { Step } from '../schema/check-run.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Another value for a place in an entry. */
export type Replacement = readonly [path: readonly Step[], value: unknown]

/** Steps to the places that have another value; without any it is such a place. */
interface Places {
  readonly below: Map<Step, Places>
  value: unknown
}

/**
 * An entry with other values at the places of some of its references; what is not on the way to one is the very object of
 * before. Blocks of a body stand beside the data, under their numbers.
 */
export function replaceValues<One extends Pick<LinkedEntry, 'data' | 'part' | 'properties'>>(
  entry: One,
  replacements: readonly Replacement[],
): One {
  if (replacements.length === 0) return entry
  const inData: Places = { below: new Map(), value: null }
  const inProperties: Places = { below: new Map(), value: null }
  for (const [path, value] of replacements) {
    const isInBody = path[0] === 'body' && typeof path[1] === 'number'
    addPlace(isInBody ? inProperties : inData, isInBody ? path.slice(1) : path, value)
  }
  return {
    ...entry,
    data: replaceInside(entry.data, inData),
    part: entry.part && replaceInside(entry.part, inData),
    properties: replaceInside(entry.properties, inProperties),
  }
}

function addPlace(places: Places, path: readonly Step[], value: unknown): void {
  let at = places
  for (const step of path) {
    const next: Places = at.below.get(step) ?? { below: new Map(), value: null }
    at.below.set(step, next)
    at = next
  }
  at.value = value
}

/** A value with others at some places; a place that leads nowhere changes nothing. */
function replaceInside(value: unknown, { below }: Places): unknown {
  if (below.size === 0 || typeof value !== 'object' || value === null) return value
  const copy = (Array.isArray(value) ? [...value] : { ...value }) as Record<string, unknown>
  for (const [step, inner] of below)
    if (Object.hasOwn(copy, step))
      setOwn(copy, String(step), inner.below.size === 0 ? inner.value : replaceInside(copy[step], inner))
  return copy
}
