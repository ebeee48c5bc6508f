import { LEADING_NUMBER } from '../schema/slug.ts'

/** The path that another means when it stands in a file; undefined where it leads out of the folder of all. */
export function resolveFrom(from: string, path: string): string | undefined {
  const folder = from.slice(0, from.lastIndexOf('/') + 1)
  const below = path.startsWith('./') ? path.slice(2) : path
  // Most lead to a file beside, or below.
  if (below !== '' && !INDIRECT.test(below)) return folder + below
  const steps = from.split('/').slice(0, -1)
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue
    if (step !== '..') steps.push(step)
    else if (steps.pop() === undefined) return undefined
  }
  return steps.join('/')
}

/** A segment that is no name. */
const INDIRECT = /(?:^|\/)\.{0,2}(?:\/|$)/

/** The last segment of a path, or all of it. */
export const lastName = (path: string): string => path.slice(path.lastIndexOf('/') + 1)

/** The last name of an address, without an ending of a file. */
export function lastSegment(address: string): string {
  const path = address.replace(/\/index$/, '').replace(/\/$/, '')
  return lastName(path).replace(/\.\w+$/, '')
}

/** A path without the numbers in front of its names, as those of numbered collections have them. */
export const withoutNumbers = (path: string): string =>
  path
    .split('/')
    .map((name) => name.replace(LEADING_NUMBER, '$2'))
    .join('/')
