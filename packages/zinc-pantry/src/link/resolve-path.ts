import { LEADING_NUMBER } from '../schema/slug.ts'

/** The path that another means when it stands in a file; undefined where it leads out of the folder of all. */
export function resolveFrom(from: string, path: string): string | undefined {
  // With a slash at its end: links are many, and a list of its names would take half as long again.
  let folder = from.slice(0, from.lastIndexOf('/') + 1)
  for (const step of path.split('/')) {
    if (step === '' || step === '.') continue
    if (step !== '..') folder += `${step}/`
    else if (folder === '') return undefined
    else folder = folder.slice(0, folder.lastIndexOf('/', folder.length - 2) + 1)
  }
  return folder.slice(0, -1)
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
