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
      : 'Name huts (a collection), huts/gable (an entry), huts.beds (a field), trails.grade.hard (a choice), callout (a block) or pictures/bell.png (a file)'
    stderr.write(`error Nothing is called "${target}"\n  help: ${help}\n`)
    return exitCodes.wrongUse
  }
  const effects = answer.effects.map((effect) => locate(effect, answer, { site: worked.site, surroundings }))
  if (flags.format === 'json') {
    const { target: kind, words, unread } = answer
    stdout.write(`${JSON.stringify({ target: kind, removes: words, effects, unread }, null, 2)}\n`)
    return unread.length > 0 ? exitCodes.contentProblems : exitCodes.clean
  }
  const { strong, faint, place, warning } = createPalette(stdout, surroundings)
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
  const { unread } = answer
  if (effects.length === 0)
    lines.push('', unread.length === 0 ? 'Nothing depends on it.' : 'Nothing that could be read depends on it.')
  if (unread.length > 0) {
    const count = plural(unread.length, 'file')
    lines.push('', warning(`Not looked into, because of errors: ${count}; more may depend on it there`))
    for (const file of unread) lines.push(`  ${place(relative(surroundings.folder, join(worked.site.root, file)))}`)
  }
  stdout.write(`${lines.join('\n')}\n`)
  stderr.write(`\n${summaryLine(answer, stderr, surroundings)}`)
  return unread.length > 0 ? exitCodes.contentProblems : exitCodes.clean
}

function locate(
  { kind, words, place: { file, span } }: Effect,
  { textOf }: ImpactAnswer,
  { site, surroundings }: { site: SitePlace; surroundings: Surroundings },
) {
  const { line, column } = createLineIndex(textOf(file) ?? '').at(span[0])
  return { kind, words, file: relative(surroundings.folder, join(site.root, file)), line, column }
}
