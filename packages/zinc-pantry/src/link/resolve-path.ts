import { LEADING_NUMBER } from '../schema/slug.ts'

/** The path that another means when it stands in a file; undefined where it leads out of the folder of all. */
export function resolveFrom(from: string, path: string): string | undefined {
  // Links are many, and most lead to a file beside, or in a folder of the one above: those are not taken apart.
  let folder = from.slice(0, from.lastIndexOf('/') + 1)
  let start = path.startsWith('./') ? 2 : 0
  for (; folder !== '' && path.startsWith('../', start); start += 3)
    folder = folder.slice(0, folder.lastIndexOf('/', folder.length - 2) + 1)
  return isPlainFrom(start, path) ? folder + path.slice(start) : resolveSteps(from, path)
}

/** True for a path all of whose segments from a place on are names. */
const isPlainFrom = (start: number, path: string): boolean =>
  start < path.length &&
  !path.startsWith('.', start) &&
  !path.startsWith('/', start) &&
  !path.includes('/.', start) &&
  !path.includes('//', start) &&
  !path.endsWith('/')

function resolveSteps(from: string, path: string): string | undefined {
  const steps = from.split('/').slice(0, -1)
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue
    if (step !== '..') steps.push(step)
    else if (steps.pop() === undefined) return undefined
  }
  return steps.join('/')
}

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

/** A part of an address without signs encoded; as it is where that cannot be. */
export function decodePart(href: string): string {
  if (!href.includes('%')) return href
  try {
    return decodeURIComponent(href)
  } catch {
    return href
  }
}
