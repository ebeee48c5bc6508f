import { LEADING_NUMBER } from '../schema/slug.ts'

/** The path that another means when it stands in a file; undefined where it leads out of the folder of all. */
export function resolveFrom(from: string, path: string): string | undefined {
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

/** A path without the numbers in front of its names, as those of numbered collections have them. */
export const withoutNumbers = (path: string): string =>
  path
    .split('/')
    .map((name) => name.replace(LEADING_NUMBER, '$2'))
    .join('/')
