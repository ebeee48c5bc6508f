import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { renderText } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { BuildReport } from '../engine/site-report.ts'

/** The streams that are written to. */
interface Logger {
  info(text: string, options?: { timestamp?: boolean }): void
  warn(text: string, options?: { timestamp?: boolean }): void
  error(text: string, options?: { timestamp?: boolean }): void
}

/** More files than these are counted. */
const MOST_NAMED = 3

/** Tells what each build of a server found: a line that names what was saved, and the problems that are new. */
export function createTeller(logger: Logger): (report: BuildReport, changes: readonly string[]) => void {
  let known: ReadonlySet<string> | undefined
  return ({ diagnostics, textOf, milliseconds }, changes) => {
    const keys = new Set(diagnostics.map(keyOf))
    const last = known
    known = keys
    if (last && changes.length > 0) {
      const mended = [...last].filter((key) => !keys.has(key)).length
      const parts = [
        ...(mended > 0 ? [`${plural(mended, 'problem')} mended`] : []),
        diagnostics.length > 0 ? `${plural(diagnostics.length, 'problem')} now` : mended > 0 ? 'none left' : '',
      ].filter(Boolean)
      const outcome = parts.length > 0 ? `: ${parts.join(', ')}` : ''
      const line = `${describeFiles(changes)}${outcome} (${Math.max(1, Math.round(milliseconds))} ms)`
      logger.info(`zinc-pantry ${line}`, { timestamp: true })
    }
    const fresh = diagnostics.filter((one) => !last?.has(keyOf(one)))
    if (fresh.length === 0) return
    const text = renderText(fresh, textOf, { isGrouped: true })
    if (fresh.some(({ severity }) => severity === 'error')) logger.error(text, { timestamp: true })
    else logger.warn(text, { timestamp: true })
  }
}

/** Problems that are the same but for their place in a text that changed above them. */
const keyOf = ({ code, file, parameters }: Diagnostic): string => JSON.stringify([code, file, parameters])

function describeFiles(changes: readonly string[]): string {
  const named = changes.slice(0, MOST_NAMED).join(', ')
  const more = changes.length - MOST_NAMED
  return more > 0 ? `${named} and ${plural(more, 'other')}` : named
}
