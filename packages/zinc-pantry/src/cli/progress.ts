import type { Progress } from '../engine/index.ts'
import type { Surroundings } from './surroundings.ts'

/** Shows nothing before this time, so that a short run does not flicker. */
const QUIET_MS = 300
const INTERVAL_MS = 100

/** A line on the terminal that says how far a long run is. Elsewhere it writes nothing. */
export function createProgress({ stderr }: Surroundings): { report(progress: Progress): void; clear(): void } {
  const started = performance.now()
  let last = started + QUIET_MS - INTERVAL_MS
  let shown = false
  return {
    report({ done, total }) {
      const now = performance.now()
      if (!stderr.isTTY || now - last < INTERVAL_MS) return
      last = now
      shown = true
      stderr.write(`\r\u001b[2KChecking ${done.toLocaleString('en-US')} of ${total.toLocaleString('en-US')} files`)
    },
    clear() {
      if (shown) stderr.write('\r\u001b[2K')
    },
  }
}
