import { join, relative } from 'node:path'
import { messageOf } from '../diagnostics/diagnostic.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { Ask } from '../engine/change/new-planner.ts'
import type { ChangeReport, ChangeRequest } from '../engine/change-request.ts'
import { changeSite } from '../engine/change-site.ts'
import type { SitePlace } from './find-configuration.ts'
import { refuse } from './refuse.ts'
import { summaryLine, writeDiagnostics } from './report.ts'
import { askSite, type CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'
import { tellAttention, tellChange } from './tell-change.ts'

/** Options of the commands that change a site. */
export interface ChangeFlags extends CommonFlags {
  readonly format: 'text' | 'json'
  readonly dryRun?: boolean
  readonly anyway?: boolean
}

/** Makes a change, or shows what it would be. */
export async function runChange(
  request: ChangeRequest,
  flags: ChangeFlags,
  surroundings: Surroundings,
): Promise<number> {
  const { dryRun = false, anyway = false } = flags
  const ask = flags.format === 'text' ? surroundings.ask : undefined
  const asked = await askSite(flags, surroundings, (options, clearProgress) => {
    const askPerson: Ask | undefined =
      ask &&
      ((question) => {
        clearProgress()
        return ask(question)
      })
    return changeSite({ ...options, dryRun, anyway, ask: askPerson }, request)
  })
  if (!asked) return exitCodes.wrongUse
  const { site, answer } = asked
  if ('refused' in answer) return refuse(surroundings, answer.refused, answer.help)
  const nameOf = (file: string): string => relative(surroundings.folder, join(site.root, file))
  await tellChange(answer, site, { flags, surroundings })
  return finish(answer, site, { flags, surroundings, nameOf })
}

interface Naming {
  readonly surroundings: Surroundings
  /** The path of a file from the working folder. */
  nameOf(file: string): string
}

/** Says how it ended, and gives the exit code. */
async function finish(
  answer: ChangeReport,
  site: SitePlace,
  { flags, surroundings, nameOf }: Naming & { readonly flags: ChangeFlags },
): Promise<number> {
  const { stderr } = surroundings
  const { outcome, problems, unfilled, changed, isWritten, change } = answer
  tellAttention(answer, site, surroundings)
  if (changed.length > 0) {
    stderr.write(`Nothing was written: changed by somebody else in the meantime: ${changed.map(nameOf).join(', ')}\n`)
    return exitCodes.contentProblems
  }
  for (const problem of unfilled) {
    const { line } = createLineIndexes(problems.textOf)(problem.file).at(problem.span[0])
    stderr.write(`To be filled in: ${nameOf(problem.file)}:${line} ${messageOf(problem)}\n`)
  }
  if (problems.diagnostics.length > 0) await writeDiagnostics(problems, site, stderr, surroundings)
  const errors = problems.diagnostics.filter(({ severity }) => severity === 'error').length
  const count = `${plural(change.steps.length, 'place')} in ${plural(new Set(change.steps.map(({ file }) => file)).size, 'file')}`
  const verdict =
    change.steps.length === 0
      ? 'There is nothing to change\n'
      : isWritten
        ? `${count} changed; "zinc-pantry undo" takes it back\n`
        : flags.dryRun
          ? `${count} would be changed\n`
          : `Nothing was written, since ${plural(errors, 'new problem')} would be there; --anyway writes all the same\n`
  stderr.write(verdict)
  stderr.write(summaryLine(isWritten ? outcome : answer, stderr, surroundings))
  return errors + unfilled.length > 0 ? exitCodes.contentProblems : exitCodes.clean
}
