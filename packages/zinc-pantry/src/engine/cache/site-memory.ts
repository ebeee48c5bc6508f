import type { Host } from '../../host/host.ts'
import type { AssetFacts } from '../../schema/asset.ts'
import type { FileResult } from '../check-file.ts'
import type { FileReason } from '../file-account.ts'
import { type AskedAsset, createFileRecord } from './file-record.ts'
import { type KeptOutput, readOutput, writeOutput } from './kept-output.ts'
import { openRecordStore, type RecordStore } from './record-store.ts'
import { RememberedBody } from './remembered-body.ts'
import { openSiteState, type SiteState } from './site-state.ts'
import { createStageMemory, type StageMemory } from './stage-memory.ts'

/** A file that was checked, as it is remembered. */
export interface RememberedFile {
  /** Says all that the results of its collection depend on beside their content. */
  readonly scope: string
  /** Says all that its result depends on. */
  readonly key: string
  readonly result: FileResult
  readonly assets: readonly AskedAsset[]
  /** Stands in kept data for values that are not known yet. */
  readonly mark: string
  /** True where it is kept from run to run already. */
  isKept: boolean
}

/** What is known of a site from earlier runs: of this process, and of others where there is a folder for it. */
export interface SiteMemory {
  /** True where code of MDX comes with what it was made from. */
  readonly hasMaps: boolean
  /** Of this process, by path. */
  readonly files: Map<string, RememberedFile>
  /** Why files were checked in this run; of all files that belong to collections. */
  readonly reasons: Map<string, FileReason>
  readonly store: RecordStore
  readonly state: SiteState
  /** What the stages found; undefined where the process does one run only. */
  readonly stages: StageMemory | undefined
  /** What is known of files that entries name, by what was asked. */
  readonly assets: Map<string, KeptFacts>
  /** The output of a body, where it is known. */
  outputOf(body: RememberedBody): KeptOutput | undefined
  keepOutput(body: RememberedBody, output: KeptOutput): void
  /** Forgets all files but those that are there, and some others. */
  forget(present: ReadonlySet<string>, others: readonly string[]): void
  /** Keeps what was learnt of files so far. */
  keepFiles(present?: ReadonlySet<string>): void
  /** Keeps all that was learnt of the files of a site. */
  save(present: ReadonlySet<string>): Promise<void>
}

/** Facts as JSON keeps them, where what is undefined is left out. */
export type KeptFacts = Pick<AssetFacts, 'file' | 'sizeBytes'> & Partial<AssetFacts>

/** The folder of what is kept, relative to the root. */
export const CACHE_FOLDER = '.pantry/cache'

/** How long things are remembered. */
export interface MemoryOptions {
  /** From run to run, in a folder. */
  readonly isKept: boolean
  /** The process does several runs, so that outputs are worth their memory. */
  readonly isLong: boolean
  readonly hasMaps?: boolean
}

/** Opens the memory of a site. */
export function openSiteMemory(host: Host, { isKept, isLong, hasMaps = false }: MemoryOptions): SiteMemory {
  const files = new Map<string, RememberedFile>()
  const outputs = new WeakMap<RememberedBody, KeptOutput>()
  const store = isKept ? openRecordStore(host, CACHE_FOLDER, { isReadAgain: isLong }) : NO_STORE
  const state = openSiteState(host, isKept ? `${CACHE_FOLDER}/state.json` : undefined)
  // No digest has such a letter.
  const outputKey = ({ key }: RememberedBody): string | undefined => key && `o${key.slice(1)}`
  const keepFiles = (present?: ReadonlySet<string>): void => {
    for (const [path, remembered] of files) if (present?.has(path) ?? true) keepFile(store, remembered)
  }
  return {
    hasMaps,
    files,
    reasons: new Map(),
    store,
    state,
    stages: isLong ? createStageMemory() : undefined,
    assets: new Map(),
    outputOf(body) {
      const key = outputKey(body)
      return outputs.get(body) ?? (key === undefined ? undefined : readOutput(store.get(key)))
    },
    keepOutput(body, output) {
      const key = outputKey(body)
      if (isLong) outputs.set(body, output)
      if (key !== undefined && isKept) store.put(key, ...writeOutput(output))
    },
    forget(present, others) {
      if (files.size <= present.size + others.length) return
      for (const path of files.keys()) if (!present.has(path) && !others.includes(path)) files.delete(path)
    },
    keepFiles,
    async save(present) {
      keepFiles(present)
      const saved = store.save()
      state.save(present)
      await saved
    },
  }
}

function keepFile(store: RecordStore, file: RememberedFile): void {
  const { key, result, isKept } = file
  const parsed = result.entries[0]?.body?.parsed
  const news = parsed instanceof RememberedBody ? parsed : undefined
  if (isKept && !news?.hasNews) return
  const record = createFileRecord(result, file)
  if (record) store.put(key, JSON.stringify(record))
  file.isKept = true
  if (news) news.hasNews = false
}

const NO_STORE: RecordStore = { get: () => undefined, put: () => undefined, save: async () => undefined }
