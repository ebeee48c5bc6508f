import { statSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { findConfigurationFile } from '../engine/configuration-file.ts'
import type { Surroundings } from './surroundings.ts'

/** Where a site is: its folder, absolute, and the configuration in it. */
export interface SitePlace {
  readonly root: string
  readonly configurationFile: string
}

/**
 * Finds the configuration: in the given folder, or else in the working folder or the nearest one above.
 * Without one it gives the folder where the search began.
 */
export function findConfiguration(
  surroundings: Surroundings,
  given?: string,
): SitePlace | { readonly looked: string; readonly isFile: boolean } {
  const { folder, openHost } = surroundings
  const start = resolve(folder, given ?? '.')
  for (let at = start; ; at = dirname(at)) {
    const configurationFile = findConfigurationFile(openHost(at))
    if (configurationFile) return { root: at, configurationFile }
    if (given !== undefined || dirname(at) === at) {
      const isFile = statSync(start, { throwIfNoEntry: false })?.isFile() === true
      return { looked: start, isFile }
    }
  }
}
