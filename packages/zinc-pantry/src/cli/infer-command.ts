import { join, relative, resolve } from 'node:path'
import { hasErrors } from '../diagnostics/diagnostic.ts'
import { plural } from '../diagnostics/words.ts'
import { CONFIGURATION_FILE } from '../engine/configuration-file.ts'
import { inferSite } from '../engine/infer/infer-site.ts'
import type { ChangeFlags } from './change-command.ts'
import { findConfiguration } from './find-configuration.ts'
import { createProgress } from './progress.ts'
import { refuse } from './refuse.ts'
import { summaryLine, writeSummary } from './report.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'
import { tellAttention, tellChange } from './tell-change.ts'

/** Options of `infer`. */
export interface InferFlags extends ChangeFlags {
  readonly yes?: boolean
}

/** The command `infer`: a first configuration from content, or collections for what none reads. */
export async function runInfer(
  patterns: readonly string[],
  flags: InferFlags,
  surroundings: Surroundings,
): Promise<number> {
  const { stderr } = surroundings
  const found = findConfiguration(surroundings, flags.root)
  const isNew = 'looked' in found
  const site = isNew
    ? { root: resolve(surroundings.folder, flags.root ?? '.'), configurationFile: CONFIGURATION_FILE }
    : found
  const below = patterns.map((pattern) => relative(site.root, join(surroundings.folder, pattern)))
  const progress = createProgress(surroundings)
  const answer = await inferSite({
    host: surroundings.openHost(site.root),
    configurationFile: isNew ? undefined : site.configurationFile,
    patterns: below,
    addImports() {
      progress.clear()
      return confirmImports(flags, surroundings)
    },
    onProgress: progress.report,
    ...(flags.dryRun ? { dryRun: true } : {}),
  })
  progress.clear()
  if ('refused' in answer) return refuse(surroundings, answer.refused, answer.help)
  await tellChange(answer, site, { flags, surroundings })
  tellAttention(answer, site, surroundings)
  const { problems, changed, change, isWritten } = answer
  if (changed.length > 0) {
    stderr.write(`Nothing was written: changed by somebody else in the meantime: ${changed.join(', ')}\n`)
    return exitCodes.contentProblems
  }
  if (problems.diagnostics.length > 0) {
    stderr.write('What is left, as "zinc-pantry check" shows at its place:\n')
    await writeSummary(problems, { ...surroundings, stdout: stderr })
  }
  const count = plural(new Set(change.steps.map(({ file }) => file)).size, 'file')
  stderr.write(isWritten ? `${count} written; "zinc-pantry undo" takes it back\n` : `${count} would be written\n`)
  stderr.write(summaryLine(problems, stderr, surroundings))
  return hasErrors(problems.diagnostics) ? exitCodes.contentProblems : exitCodes.clean
}

/** Asks whether what `#pantry` needs is to be written beside the configuration. */
async function confirmImports({ yes = false }: InferFlags, { ask, stderr }: Surroundings): Promise<boolean> {
  if (yes) return true
  const words = 'what #pantry needs in package.json, and what is generated in .gitignore'
  const answer = await ask?.({
    field: 'Write too',
    description: words,
    expected: 'yes or no',
    choices: [
      { value: 'true', label: 'yes' },
      { value: 'false', label: 'no' },
    ],
    isMany: false,
  })
  if (!ask) stderr.write(`"--yes" writes ${words} too\n`)
  return answer === 'true'
}
