import { undoChange } from '../engine/change-journal.ts'
import { writeDiagnostics } from './report.ts'
import type { CommonFlags } from './site-command.ts'
import { findSite } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** The command `undo`: takes the last change back, as long as nobody touched its files. */
export async function runUndo(flags: CommonFlags, surroundings: Surroundings): Promise<number> {
  const { stdout, stderr } = surroundings
  const { site, missing } = findSite(flags, surroundings)
  if (missing) {
    await writeDiagnostics(missing, site, stderr, surroundings)
    return exitCodes.wrongUse
  }
  const undone = await undoChange(surroundings.openHost(site.root))
  if (!undone) {
    stderr.write('There is no change to undo\n')
    return exitCodes.wrongUse
  }
  if ('changed' in undone) {
    stderr.write(`Nothing was undone: changed since then: ${undone.changed.join(', ')}\n`)
    return exitCodes.contentProblems
  }
  stdout.write(`Undone: ${undone.words}\n`)
  return exitCodes.clean
}
