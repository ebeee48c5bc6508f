import { createRequire } from 'node:module'
import type { Colouring } from './host.ts'

/**
 * Loads what colours code from where the package `lowlight` is installed, without its languages, each of which is loaded when it is
 * asked for: its own entry loads all two hundred. Nothing where the package is not there.
 */
export async function loadColouring(): Promise<Colouring | undefined> {
  let entry: string
  try {
    entry = import.meta.resolve('lowlight')
  } catch (error) {
    if ((error as { readonly code?: string }).code === 'ERR_MODULE_NOT_FOUND') return undefined
    throw error
  }
  const require = createRequire(entry)
  const { createLowlight } = await import(new URL('lib/index.js', entry).href)
  return { createLowlight, grammarOf: (language) => require(`highlight.js/lib/languages/${language}`) }
}
