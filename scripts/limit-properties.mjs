import fc from 'fast-check'

/** Milliseconds that the runs of one property take in a plain run of the tests, on whatever machine. */
const LIMIT_MS = 1000
/** So many runs are made in any case: what is asked of all of them together is asked of enough. */
const LEAST_RUNS = 6

/**
 * Runs of a property that would begin after its time is up are left out, so that a slow machine tries fewer cases instead of
 * failing by time. A case that failed is made smaller without a limit. PANTRY_THOROUGH lifts it.
 */
const stopAfterLimit = () => {
  const end = performance.now() + LIMIT_MS
  let isAsync
  let count = 0
  let hasFailed = false
  const note = (failure) => {
    hasFailed ||= failure !== null
    return failure
  }
  return {
    decorateRun: (run) => (value) => {
      if (count++ >= LEAST_RUNS && !hasFailed && performance.now() > end) return isAsync ? Promise.resolve(null) : null
      const result = run(value)
      isAsync = result instanceof Promise
      return isAsync ? result.then(note) : note(result)
    },
  }
}

// Files of tests share a process, in which this is loaded for each.
const isInstalled = Symbol.for('zinc-pantry.limit-properties')
if (!process.env.PANTRY_THOROUGH && !globalThis[isInstalled]) {
  globalThis[isInstalled] = true
  fc.installGlobalPlugin(stopAfterLimit)
}
