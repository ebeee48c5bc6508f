import { dirname, resolve } from 'node:path'
import type { Surroundings } from './surroundings.ts'

/** The names a configuration can have, in the order in which they are looked for. */
const CONFIGURATION_FILES = ['pantry.config.ts', 'pantry.config.mts', 'pantry.config.js', 'pantry.config.mjs']

/** Where a site is: its folder, absolute, and the configuration in it. */
export interface SitePlace {
  readonly root: string
  readonly configurationFile: string
}

/**
 * Finds the configuration: in the given folder, or else in the working folder or the nearest one above.
 * Without one it gives the folder where the search began.
 */
export function findConfiguration(surroundings: Surroundings, given?: string): SitePlace | { readonly looked: string } {
  const { folder, openHost } = surroundings
  const start = resolve(folder, given ?? '.')
  for (let at = start; ; at = dirname(at)) {
    const host = openHost(at)
    const configurationFile = CONFIGURATION_FILES.find((name) => host.size(name) !== undefined)
    if (configurationFile) return { root: at, configurationFile }
    if (given !== undefined || dirname(at) === at) return { looked: start }
  }
}
