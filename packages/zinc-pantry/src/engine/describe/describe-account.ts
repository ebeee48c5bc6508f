import type { Dependent, FileAccount } from '../file-account.ts'
import type { FileReason } from '../file-reason.ts'

const REASONS: Readonly<Record<FileReason, string>> = {
  unchanged: 'Nothing was done: neither its content nor what it depends on changed',
  values: 'Not read again: its values were checked alone, since what the configuration takes for its fields changed',
  recalled: 'Not checked again: its content changed to what was checked at an earlier time',
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

/** What was done with a file, for people. */
export interface AccountView {
  readonly file: string
  /** What was done, and why. */
  readonly words: string
  readonly entries: readonly string[]
  /** True where others can depend on it. */
  readonly isContent: boolean
  /** The entries that are looked at again when it changes, and how each depends on it. */
  readonly dependents: readonly { readonly entry: string; readonly ways: readonly string[] }[]
}

/** Says what was done with a file, why, and what depends on it. */
export const describeAccount = ({ file, kind, reason, entries, dependents }: FileAccount): AccountView => ({
  ...{ file, entries, words: describeFile(kind, reason), isContent: kind === 'content' || kind === 'asset' },
  dependents: [...groupByEntry(dependents)].map(([entry, ways]) => ({ entry, ways })),
})

/** What was done with a file that had changed; there is no reason for one that is no content. */
export const describeReason = (reason: FileReason | undefined): string =>
  reason === undefined ? 'No collection reads it, or it is there no more' : REASONS[reason]

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
