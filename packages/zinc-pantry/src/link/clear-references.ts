import { setOwn } from '../diagnostics/own-key.ts'
import type { Step } from '../schema/field.ts'
import type { LinkedEntry } from '../validate/entry.ts'

/** Steps to the places that are to be cleared; without any it is such a place. */
type Places = Map<Step, Places>

/** An entry without the values of some of its references, which lead nowhere, or to what is not to be seen. */
export function clearReferences<One extends Pick<LinkedEntry, 'data' | 'properties'>>(
  entry: One,
  paths: readonly (readonly Step[])[],
): One {
  const inData: Places = new Map()
  const inProperties: Places = new Map()
  for (const path of paths) {
    // Blocks of a body stand beside the data, under their numbers.
    if (path[0] === 'body' && typeof path[1] === 'number') addPath(inProperties, path.slice(1))
    else addPath(inData, path)
  }
  return { ...entry, data: clearInside(entry.data, inData), properties: clearInside(entry.properties, inProperties) }
}

function addPath(places: Places, path: readonly Step[]): void {
  let at = places
  for (const step of path) {
    const next: Places = at.get(step) ?? new Map()
    at.set(step, next)
    at = next
  }
}

/** A value with null at some places; one that leads nowhere changes nothing. */
function clearInside(value: unknown, places: Places): unknown {
  if (places.size === 0 || typeof value !== 'object' || value === null) return value
  const cleared = (Array.isArray(value) ? [...value] : { ...value }) as Record<string, unknown>
  for (const [step, below] of places)
    if (Object.hasOwn(cleared, step))
      setOwn(cleared, String(step), below.size === 0 ? null : clearInside(cleared[step], below))
  return cleared
}
