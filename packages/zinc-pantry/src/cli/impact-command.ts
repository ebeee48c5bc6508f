import { join, relative } from 'node:path'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { findImpact, plural } from '../engine/index.ts'
import { createPalette } from './palette.ts'
import { refuse } from './refuse.ts'
import { summaryLine } from './report.ts'
import { askSite, type CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'

/** Options of `impact`. */
export interface ImpactFlags extends CommonFlags {
  readonly format: 'text' | 'json'
}

/** The command `impact`: what would break if something were removed. Nothing is. */
export async function runImpact(target: string, flags: ImpactFlags, surroundings: Surroundings): Promise<number> {
  const { stdout, stderr } = surroundings
  const asked = await askSite(flags, surroundings, (options) => findImpact(options, target))
  if (!asked) return exitCodes.wrongUse
  const { site, answer } = asked
  if (!('effects' in answer)) return refuse(surroundings, answer.refused, answer.help)
  const nameOf = (file: string): string => relative(surroundings.folder, join(site.root, file))
  const indexOf = createLineIndexes(answer.textOf)
  const effects = answer.effects.map(({ kind, words, place: { file, span } }) => {
    return { kind, words, file: nameOf(file), ...indexOf(file).at(span[0]) }
  })
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
    for (const file of unread) lines.push(`  ${place(nameOf(file))}`)
  }
  stdout.write(`${lines.join('\n')}\n`)
  stderr.write(`\n${summaryLine(answer, stderr, surroundings)}`)
  return unread.length > 0 ? exitCodes.contentProblems : exitCodes.clean
}
