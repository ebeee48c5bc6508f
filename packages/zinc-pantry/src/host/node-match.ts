import { createContext, Script } from 'node:vm'

/** How long a pattern may take for a text. */
const TIME_LIMIT_MS = 100

/** Matches patterns for a bounded time each: the engine looks up from its work now and then, and can be stopped. */
export function createTimedMatcher(): (pattern: RegExp, text: string) => boolean | undefined {
  const given = { source: '', flags: '', text: '' }
  let made: { readonly script: Script; readonly context: object } | undefined
  return (pattern, text) => {
    made ??= { script: new Script('new RegExp(source, flags).test(text)'), context: createContext(given) }
    Object.assign(given, { source: pattern.source, flags: pattern.flags, text })
    try {
      return made.script.runInContext(made.context, { timeout: TIME_LIMIT_MS }) as boolean
    } catch (error) {
      if ((error as { readonly code?: string }).code === 'ERR_SCRIPT_EXECUTION_TIMEOUT') return undefined
      throw error
    }
  }
}
