import type { Host } from '../../host/host.ts'
import { isSameView } from '../../link/publication.ts'
import type { EmittedSite } from '../graph/emit-site.ts'
import { asksForTimes, type SiteInputs } from '../load-inputs.ts'
import { isWhole, type WrittenFiles } from '../publish.ts'
import type { SiteReport } from '../site-report.ts'
import { writeModelText } from './model-text.ts'
import type { SiteState } from './site-state.ts'

/** The record of a run, kept where the next may be the same. */
export interface RunRecord {
  /** Says all that the run depends on, but the moment. */
  readonly scope: string
  readonly instant: string
  /** Dates and instants at which something begins or ends to be seen. */
  readonly boundaries: readonly string[]
  readonly report: Omit<SiteReport, 'textOf' | 'milliseconds'>
  readonly output?: OutputRecord | undefined
}

/** An output that was written. */
export interface WrittenOutput extends EmittedSite {
  readonly folder: string
  /** The states of all files, the entry files included. */
  readonly files: WrittenFiles
}

/** The record of an output. */
export const recordOutput = ({ folder, files }: WrittenOutput): OutputRecord => ({
  folder,
  files: Object.fromEntries(files),
})

/** The files of an output. */
export interface OutputRecord {
  readonly folder: string
  /** The state of each, by path; a file whose state is the same is as it was written. */
  readonly files: Readonly<Record<string, string>>
}

/** The kind of a run. */
export interface RunKind {
  readonly name: 'check' | 'build' | 'live'
  readonly drafts: boolean
}

/** Says all that a run depends on; undefined where that cannot be said. */
export function describeRun(
  host: Host,
  { model, code, listing, publicFiles, sources, versions }: SiteInputs,
  { state, kind }: { readonly state: SiteState; readonly kind: RunKind },
): string | undefined {
  const { text, hasCode } = writeModelText(model)
  if (hasCode && code === undefined) return undefined
  const files = listing.files.map((path) => {
    const digest = state.digestOf(`${model.content}/${path}`)
    return digest === undefined ? undefined : `${path} ${digest}`
  })
  const answers = [...sources].map(([name, source]) =>
    source.diagnostics.length > 0 || !source.text ? undefined : `${name} ${host.digest(source.text.text)}`,
  )
  if (files.includes(undefined) || answers.includes(undefined)) return undefined
  const { strayLinks, unreadable } = listing
  const changes = versions && [versions.isShallow, [...versions.files]]
  const times = asksForTimes(model) ? listing.files.map((path) => host.times?.(`${model.content}/${path}`)) : []
  const open = [...(model.blocks.open ?? [])]
  const said = [
    ...[host.version(), code, text, open, host.digest(files.join('\0')), publicFiles, answers, strayLinks, unreadable],
    ...[changes, times, kind],
  ]
  return host.digest(JSON.stringify(said))
}

/** The name by which a run is remembered. */
export const runName = ({ name, drafts }: RunKind): string => `${name}${drafts ? ' with drafts' : ''}`

/** The record of the last run of a kind, where one now would find the same. */
export function recallRun(
  host: Host,
  scope: string,
  { state, kind, instant }: { readonly state: SiteState; readonly kind: RunKind; readonly instant: string },
): RunRecord | undefined {
  const record = state.run(runName(kind)) as RunRecord | undefined
  if (record?.scope !== scope || !isSameView(record.boundaries, record.instant, instant)) return undefined
  const { output } = record
  return output && !isWhole(host, output.folder, Object.entries(output.files)) ? undefined : record
}

/** Makes the record of a run. */
export function createRecord(
  { diagnostics, entryCount, fileCount, unmatchedCount, collectionCount, collectionNames, implicit }: SiteReport,
  rest: Omit<RunRecord, 'report'>,
): RunRecord {
  return {
    ...rest,
    report: { diagnostics, entryCount, fileCount, unmatchedCount, collectionCount, collectionNames, implicit },
  }
}
