import { join, relative } from 'node:path'
import { createLineIndex, type Effect, findImpact, type ImpactAnswer, plural } from '../engine/index.ts'
import type { SitePlace } from './find-configuration.ts'
import { createPalette } from './palette.ts'
import { exitCodeOf, summaryLine, writeDiagnostics } from './report.ts'
import { type CommonFlags, workOnSite } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options of `impact`. */
export interface ImpactFlags extends CommonFlags {
  readonly format: 'text' | 'json'
}

/** The command `impact`: what would break if something were removed. Nothing is. */
export async function runImpact(target: string, flags: ImpactFlags, surroundings: Surroundings): Promise<number> {
  const { stdout, stderr } = surroundings
  const worked = await workOnSite(flags, surroundings, (options) => findImpact(options, target))
  const answer = 'report' in worked ? worked.report : { ...worked.missing, suggestion: undefined }
  if (exitCodeOf(answer.diagnostics) === exitCodes.wrongUse) {
    await writeDiagnostics(answer, worked.site, stderr, surroundings)
    return exitCodes.wrongUse
  }
  if (!('effects' in answer)) {
    const help = answer.suggestion
      ? `Did you mean "${answer.suggestion}"?`
      : 'Name huts (a collection), huts/gable (an entry) or huts.beds (a field)'
    stderr.write(`error Nothing is called "${target}"\n  help: ${help}\n`)
    return exitCodes.wrongUse
  }
  const effects = answer.effects.map((effect) => locate(effect, answer, { site: worked.site, surroundings }))
  if (flags.format === 'json') {
    const { target: kind, words } = answer
    stdout.write(`${JSON.stringify({ target: kind, removes: words, effects }, null, 2)}\n`)
    return exitCodes.clean
  }
  const { strong, faint, place } = createPalette(stdout, surroundings)
  const lines = [strong(answer.words)]
  for (const kind of ['definition', 'use'] as const) {
    const own = effects.filter((effect) => effect.kind === kind)
    if (own.length === 0) continue
    lines.push(
      '',
      faint(
        kind === 'definition'
          ? `In the configuration: ${plural(own.length, 'place')}`
          : `In the content: ${plural(own.length, 'place')}`,
      ),
    )
    for (const { file, line, column, words } of own) lines.push(`  ${place(`${file}:${line}:${column}`)} ${words}`)
  }
  if (effects.length === 0) lines.push('', 'Nothing depends on it.')
  stdout.write(`${lines.join('\n')}\n`)
  stderr.write(summaryLine(answer, stderr, surroundings))
  return exitCodes.clean
}

function locate(
  { kind, words, place: { file, span } }: Effect,
  { textOf }: ImpactAnswer,
  { site, surroundings }: { site: SitePlace; surroundings: Surroundings },
) {
  const { line, column } = createLineIndex(textOf(file) ?? '').at(span[0])
  return { kind, words, file: relative(surroundings.folder, join(site.root, file)), line, column }
}
