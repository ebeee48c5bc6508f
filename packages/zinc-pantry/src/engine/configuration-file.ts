import type { Host } from '../host/host.ts'

/** The name of a configuration where nothing else is said. */
export const CONFIGURATION_FILE = 'pantry.config.ts'

/** The names a configuration can have, in the order in which they are looked for. */
const CONFIGURATION_FILES = [CONFIGURATION_FILE, 'pantry.config.mts', 'pantry.config.js', 'pantry.config.mjs']

/** The name of the configuration in the folder of a host; undefined where there is none. */
export function findConfigurationFile(host: Host): string | undefined {
  return CONFIGURATION_FILES.find((name) => host.size(name) !== undefined)
}

/** Says what the last change of a site was; relative to its root. */
export const JOURNAL = '.pantry/change/journal.json'
