import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Refusal } from './change.ts'

/** A refusal because of a name that is not known, with the nearest one that is. */
export function refuseName(refused: string, name: string, known: readonly string[]): Refusal {
  const suggestion = suggestNearest(name, known)
  return { refused, ...(suggestion === undefined ? {} : { help: `Did you mean "${suggestion}"?` }) }
}
