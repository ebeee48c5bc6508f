import { join, relative } from 'node:path'
import type { ChangeStep } from '../change/change.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import type { ChangeReport } from '../engine/change-request.ts'
import type { SitePlace } from './find-configuration.ts'
import { createPalette } from './palette.ts'
import type { Surroundings } from './surroundings.ts'

/** How a change is told. */
export interface TellFlags {
  readonly format: 'text' | 'json'
  readonly dryRun?: boolean
}

/** Tells of a change that was made, or would be. */
export async function tellChange(
  answer: ChangeReport,
  site: SitePlace,
  { flags, surroundings }: { readonly flags: TellFlags; readonly surroundings: Surroundings },
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

interface Naming {
  readonly surroundings: Surroundings
  /** The path of a file from the working folder. */
  nameOf(file: string): string
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
