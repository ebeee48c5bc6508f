import type { Palette } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import type { Dependent, FileAccount } from '../engine/file-account.ts'
import type { FileReason } from '../engine/file-reason.ts'

const REASONS: Readonly<Record<FileReason, string>> = {
  unchanged: 'Nothing was done: neither its content nor what it depends on changed',
  first: 'Checked, since nothing is known of it from an earlier build',
  content: 'Checked again, since its content changed',
  configuration: 'Checked again, since what the configuration says of its collection changed',
  files: 'Checked again, since a file that it names changed',
}

const HOW: Readonly<Record<Dependent['by'], string>> = {
  reference: 'refers to it',
  link: 'links to it',
  computation: 'computes something from it',
  file: 'shows it',
}

/** Says what was done with a file, why, and what depends on it. */
export function describeAccount(
  { file, kind, reason, entries, dependents }: FileAccount,
  { place, faint }: Palette,
): string {
  const lines = [describeFile(kind, reason)]
  if (entries.length > 0)
    lines.push(`Holds ${entries.length > 3 ? plural(entries.length, 'entry', 'entries') : entries.join(', ')}`)
  if (kind === 'content' || kind === 'asset')
    lines.push(dependents.length > 0 ? 'Looked at again when it changes:' : 'Nothing else depends on it')
  const width = Math.max(0, ...dependents.map(({ entry }) => entry.length))
  const rows = [...groupByEntry(dependents)].map(
    ([entry, ways]) => `    ${entry.padEnd(width)}  ${faint(ways.join(', '))}`,
  )
  return [place(file), ...lines.map((line) => `  ${line}`), ...rows, ''].join('\n')
}

function describeFile(kind: FileAccount['kind'], reason: FileReason): string {
  if (kind === 'configuration')
    return 'Part of the configuration: when it changes, what it says decides what is done again'
  if (kind === 'unknown') return 'No such file belongs to the site'
  return kind === 'asset' ? 'No collection reads it' : REASONS[reason]
}

/** The ways in which each entry depends, those of references by their paths. */
function groupByEntry(dependents: readonly Dependent[]): Map<string, string[]> {
  const groups = new Map<string, Map<Dependent['by'], string[]>>()
  for (const { entry, by, path } of dependents) {
    const ways = groups.get(entry) ?? new Map<Dependent['by'], string[]>()
    groups.set(entry, ways)
    ways.set(by, [...(ways.get(by) ?? []), ...(path === undefined ? [] : [path])])
  }
  const describe = ([by, paths]: [Dependent['by'], string[]]): string =>
    HOW[by] + (paths.length > 0 ? ` (${paths.join(', ')})` : '')
  return new Map(Array.from(groups, ([entry, ways]) => [entry, Array.from(ways, describe)]))
}
