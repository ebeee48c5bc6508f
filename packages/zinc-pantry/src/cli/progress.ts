import { formatCount } from '../diagnostics/format-count.ts'
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
    report({ done, total, noun = 'files' }) {
      const now = performance.now()
      if (!stderr.isTTY || now - last < INTERVAL_MS) return
      last = now
      shown = true
      const verb = noun === 'files' ? 'Checking' : 'Making'
      const count = `${formatCount(done)} of ${formatCount(total)}`
      stderr.write(`\r\u001b[2K${verb} ${count} ${noun}`)
    },
    clear() {
      if (shown) stderr.write('\r\u001b[2K')
    },
  }
}
