import { join, relative } from 'node:path'
import type { ChangeStep } from '../change/change.ts'
import { messageOf } from '../diagnostics/diagnostic.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { Ask } from '../engine/change/new-planner.ts'
import { type ChangeReport, type ChangeRequest, changeSite } from '../engine/change-site.ts'
import type { SitePlace } from './find-configuration.ts'
import { createPalette } from './palette.ts'
import { refuse } from './refuse.ts'
import { summaryLine, writeDiagnostics } from './report.ts'
import { askSite, type CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options of the commands that change a site. */
export interface ChangeFlags extends CommonFlags {
  readonly format: 'text' | 'json'
  readonly dryRun?: boolean
  readonly anyway?: boolean
}

/** Tells of a change that was made, or would be, and gives the exit code. */
export async function tellChange(
  answer: ChangeReport,
  site: SitePlace,
  { flags, surroundings }: { readonly flags: ChangeFlags; readonly surroundings: Surroundings },
): Promise<void> {
  const { stdout } = surroundings
  const nameOf = (file: string): string => relative(surroundings.folder, join(site.root, file))
  if (flags.format === 'json') stdout.write(`${JSON.stringify(toChangeJson(answer), null, 2)}\n`)
  else if (flags.dryRun && answer.changed.length === 0)
    stdout.write(colourDiff(await writeDiff(answer, nameOf), createPalette(stdout, surroundings)))
  else if (answer.isWritten) stdout.write(describeChange(answer, { nameOf, surroundings }))
}

/** Tells of the places that a person must look at. */
export function tellAttention(
  { change, textOf }: ChangeReport,
  { root }: SitePlace,
  { folder, stderr }: Surroundings,
): void {
  const indexOf = createLineIndexes(textOf)
  for (const { place, words } of change.attention) {
    const { line, column } = indexOf(place.file).at(place.span[0])
    stderr.write(`To be looked at: ${relative(folder, join(root, place.file))}:${line}:${column} ${words}\n`)
  }
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

/** The steps of a change, each in a line. */
function describeChange({ change, textOf }: ChangeReport, { nameOf, surroundings }: Naming): string {
  const { strong, place, faint } = createPalette(surroundings.stdout, surroundings)
  const indexOf = createLineIndexes(textOf)
  const placeOf = (step: ChangeStep): string => {
    if (step.kind !== 'edit') return nameOf(step.file)
    const { line, column } = indexOf(step.file).at(step.span[0])
    return `${nameOf(step.file)}:${line}:${column}`
  }
  const lines = change.steps.map((step) => {
    const words =
      step.kind === 'move'
        ? `becomes ${nameOf(step.to)}`
        : step.kind === 'delete'
          ? 'is gone'
          : step.kind === 'make'
            ? 'is made'
            : step.reason
    return `  ${place(placeOf(step))} ${step.kind === 'move' ? words : faint(words)}\n`
  })
  return `${strong(change.words)}\n${lines.join('')}`
}

/** The change as a unified diff. */
async function writeDiff({ before, after, change }: ChangeReport, nameOf: (file: string) => string): Promise<string> {
  const { createTwoFilesPatch } = await import('diff')
  const decoder = new TextDecoder()
  const moves = new Map(change.steps.flatMap((step) => (step.kind === 'move' ? [[step.to, step.file] as const] : [])))
  const gone = new Set(moves.values())
  const patches = [...after].flatMap(([file, bytes]) => {
    if (gone.has(file)) return []
    const from = moves.get(file) ?? file
    const old = before.get(from)
    const [oldName, newName] = [old ? nameOf(from) : '/dev/null', bytes ? nameOf(file) : '/dev/null']
    if (old?.includes(0) || bytes?.includes(0))
      return [
        moves.has(file)
          ? `rename from ${oldName}\nrename to ${newName}\n`
          : `Binary files ${oldName} and ${newName} differ\n`,
      ]
    const [one, other] = [old, bytes].map((content) => (content ? decoder.decode(content) : '')) as [string, string]
    if (one === other) return [`rename from ${oldName}\nrename to ${newName}\n`]
    const patch = createTwoFilesPatch(oldName, newName, one, other, undefined, undefined, { context: 1 })
    return [`${patch.replace(/^(?:Index: .*\n)?=+\n/, '').trimEnd()}\n`]
  })
  return patches.join('')
}

/** A diff with what goes and what comes in the colours of a terminal. */
const colourDiff = (diff: string, { error, good, faint }: ReturnType<typeof createPalette>): string =>
  diff.replace(/^(?:@@.*|[-+](?![-+]{2} ).*)$/gm, (line) =>
    line.startsWith('@') ? faint(line) : line.startsWith('+') ? good(line) : error(line),
  )

/** The change itself, for programs: lines and columns from 1 as everywhere, and its new problems. */
export function toChangeJson({ change, problems, isWritten, textOf }: ChangeReport): object {
  const indexOf = createLineIndexes(textOf)
  const steps = change.steps.map((step) =>
    step.kind === 'edit' ? { ...step, ...indexOf(step.file).at(step.span[0]) } : step,
  )
  const attention = change.attention.map(({ place, words }) => ({
    ...place,
    ...indexOf(place.file).at(place.span[0]),
    words,
  }))
  const codes = problems.diagnostics.map(({ code, file, span }) => ({ code, file, span }))
  return { words: change.words, steps, attention, problems: codes, isWritten }
}
