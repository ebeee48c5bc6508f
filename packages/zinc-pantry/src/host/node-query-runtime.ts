import { readdirSync, readFileSync } from 'node:fs'

/** The folder that the package's build puts the query runtime into. */
const RUNTIME = new URL('../runtime/', import.meta.url)

/** Reads the query runtime that the package ships for pages without a bundler. */
export function readQueryRuntime(): ReadonlyMap<string, string> {
  const names = readdirSync(RUNTIME).sort()
  return new Map(names.map((name) => [name, readFileSync(new URL(name, RUNTIME), 'utf8')]))
}
