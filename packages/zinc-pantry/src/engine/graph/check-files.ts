import { assignFiles, type CollectionFiles, type NearMiss } from '../../find/assign-files.ts'
import type { Listing } from '../../host/host.ts'
import { areSame, areSameMaps } from '../../memo/are-same.ts'
import { extensionsOf } from '../../read/formats.ts'
import type { PatternMatcher } from '../../schema/check-run.ts'
import { allFields } from '../../schema/model.ts'
import { loadPatternMatcher } from '../../schema/patterns/load-matcher.ts'
import type { SettingProblem } from '../../schema/settings-reader.ts'
import { type AssetReader, createAssetReader } from '../assets.ts'
import { findGuardedFiles } from '../assigned-files.ts'
import { type CheckedCollection, checkCollection } from '../check-collection.ts'
import type { CheckContext } from '../check-context.ts'
import { createFileReader } from '../file-reader.ts'
import { openSettling } from '../settled-collections.ts'
import type { Without } from '../without.ts'

/** All files of a site, read and checked one by one. */
export interface CheckedFiles {
  readonly checked: readonly CheckedCollection[]
  /** Keeps of which collections nothing is told, for the next check. */
  keep(hasProblems: (collection: string) => boolean): void
  readonly listing: Listing
  /** The number of files that belong to collections. */
  readonly fileCount: number
  /** Files that belong to none. */
  readonly unmatched: readonly string[]
  readonly nearMisses: readonly NearMiss[]
  readonly problems: readonly SettingProblem[]
  /** Files that are never published, with the names of their collections. */
  readonly guarded: ReadonlyMap<string, string>
  /** The collection that reads a file, by its path from the root. */
  readonly owners: ReadonlyMap<string, string>
  /** The facts of files of the content folder. */
  readonly asset: AssetReader
  /** Another object where those may be different from the last run. */
  readonly assetState: unknown
  readonly matches: PatternMatcher
}

/** Reads and checks all files of a site, and puts their texts into `texts`. */
export async function checkFiles(context: CheckContext, texts: Map<string, string>): Promise<CheckedFiles> {
  const { host, model, sources, memory, code, without } = context
  const { memo } = memory
  const { content, blocks } = model
  const listed = without ? listWithout(context.listing, without) : context.listing
  const files = memo.keepEqual('files', listed.files, areSame)
  const listing = { ...listed, files }
  const { assigned, problems, unmatched, nearMisses } = memo.value('assigned', [model, files], () =>
    assignFiles(model.collections, files, extensionsOf(model.endings)),
  )
  const fileCount = assigned.reduce((sum, one) => sum + one.files.length, 0)
  const readFile = createFileReader({ host, content }, texts, countReads(context, fileCount))
  const guarded = memo.value('guarded', [assigned], () => findGuardedFiles(assigned, blocks), { isEqual: areSameMaps })
  const asset = createAssetReader({ host, content, memory, base: model.assetBase }, { files, guarded })
  const owners = memo.value('owners', [assigned], () => findOwners(assigned, content))
  const touched = memory.state.touched()
  const onlyContent = touched?.every((file) => owners.has(file)) === true
  // What is known of other files is as it was, unless one of them was touched.
  const dirty = onlyContent ? new Set(touched.map((file) => file.slice(content.length + 1))) : undefined
  const matches = await loadPatternMatcher([...model.collections.map(allFields), ...blocks.values()], host.matches)
  const settling = context.isReportOnly && !context.unused && !without ? openSettling(context, assigned) : undefined
  const read = new Map<string, CheckedCollection>()
  const readCollection = async (one: CollectionFiles): Promise<void> => {
    const { name } = one.collection
    const source = sources.get(name)?.text
    if (source) texts.set(source.file, source.text)
    const found = await checkCollection(one, {
      ...{ host, model, readFile, asset, source, memory, code, matches },
      touched: source ? undefined : dirty,
    })
    read.set(name, without ? { ...found, entries: found.entries.filter((entry) => !without.isEntry(entry)) } : found)
  }
  const settled = new Map<string, CheckedCollection>()
  for (const one of assigned) if (!settling?.mayStand(one)) await readCollection(one)
  for (const one of assigned) {
    const { name } = one.collection
    const known = read.has(name) ? undefined : settling?.settle(one, read)
    if (known) settled.set(name, known)
    else if (!read.has(name)) await readCollection(one)
  }
  const checked = assigned.map(({ collection: { name } }) => (read.get(name) ?? settled.get(name)) as CheckedCollection)
  const assetState = memo.keepEqual<object>('asset state', {}, () => onlyContent)
  const keep = (hasProblems: (name: string) => boolean): void => settling?.keep([...read.values()], hasProblems)
  return {
    checked,
    keep,
    listing,
    fileCount,
    unmatched,
    nearMisses,
    problems,
    guarded,
    owners,
    asset,
    assetState,
    matches,
  }
}

/** Tells how many files were read. Entries hold what reads their files again, which must hold nothing else of a run. */
function countReads({ onProgress }: Pick<CheckContext, 'onProgress'>, total: number): () => void {
  let done = 0
  return () => onProgress?.({ done: done++, total })
}

const findOwners = (assigned: readonly CollectionFiles[], content: string): ReadonlyMap<string, string> =>
  new Map(
    assigned.flatMap(({ collection, files }) =>
      files.map(({ path }) => [`${content}/${path}`, collection.name] as const),
    ),
  )

function listWithout(listing: Listing, { files }: Without): Listing {
  const left = new Set(files)
  return { ...listing, files: listing.files.filter((path) => !left.has(path)) }
}
