import { createRequire } from 'node:module'

/** The version of the package. */
export function readVersion(): string {
  const { version } = createRequire(import.meta.url)('../../package.json') as { version: string }
  return version
}
