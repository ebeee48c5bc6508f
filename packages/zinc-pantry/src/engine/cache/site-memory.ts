import { type Host, HostError, LEFT_OVER } from '../../host/host.ts'
import { keyBeside } from '../../memo/kept-results.ts'
import { createMemo, FORGETFUL, type Memo } from '../../memo/memo.ts'
import { openRecordStore, type RecordStore } from '../../memo/record-store.ts'
import { openSharedResults, type SharedResults } from '../../memo/shared-results.ts'
import type { Storage } from '../../memo/storage.ts'
import type { AssetFacts } from '../../schema/asset.ts'
import { type Bodies, openBodies } from '../bodies.ts'
import type { CheckedRecords } from '../checked-records.ts'
import type { FileReason } from '../file-reason.ts'
import type { Generation } from '../publish.ts'
import { findOutput, type KeptOutput, keepOutput, type RecalledOutput } from './kept-output.ts'
import { openSiteState, type SiteState } from './site-state.ts'

/** The results of earlier runs over a site: of this process, and of others where there is a folder for them. */
export interface SiteMemory {
  /** True where code of MDX comes with what it was made from. */
  readonly hasMaps: boolean
  /** Why files were checked in this run; of all files that belong to collections. */
  readonly reasons: ReadonlyMap<string, FileReason>
  /** Says why a file was checked, or that it was not. */
  setReason(file: string, reason: FileReason): void
  /** Records that are kept from process to process. */
  readonly store: RecordStore
  /** True where they are. */
  readonly isStored: boolean
  readonly state: SiteState
  readonly bodies: Bodies
  /** Results of files by collection and file, for other runs of the process; undefined where there are none. */
  readonly results: SharedResults | undefined
  /** Results of earlier runs of the same process; one that does one run only keeps none. */
  readonly memo: Memo
  /** The records of files as they were checked last, by collection and file; undefined in a process that does one run only. */
  readonly records: Map<string, CheckedRecords> | undefined
  /** The generation that this process wrote last. */
  generation: Generation | undefined
  /** The facts of files that entries name, by their keys. */
  readonly assets: Map<string, KeptFacts>
  /** The output of the body of a file, where it is kept. */
  outputOf(file: string): RecalledOutput | undefined
  keepOutput(file: string, output: KeptOutput, addresses: RecalledOutput['addresses']): void
  /** Keeps something when all is saved, where it is likely to be another until then; of one place the last. */
  keepLater(place: string, keep: () => void): void
  /** Begins another run, in which only these files may have changed; undefined where all may have. */
  begin(changed: ReadonlySet<string> | undefined): void
  /** Forgets all files but those that are there. */
  forget(present: ReadonlySet<string>): void
  /** From now on nothing more is kept for other processes: what is checked is not what files hold. */
  freeze(): void
  /** Keeps all that was learnt of the files of a site, of which those that are there are asked for where there is something to keep. */
  save(present: () => ReadonlySet<string>): Promise<void>
}

/** Facts as JSON keeps them, where what is undefined is left out. */
export type KeptFacts = Pick<AssetFacts, 'file' | 'sizeBytes'> & Partial<Omit<AssetFacts, 'digest' | 'base'>>

/** The folder of what is kept, relative to the root. */
export const CACHE_FOLDER = '.pantry/cache'

/** How long things are remembered. */
export interface MemoryOptions {
  /** From run to run, in a folder. */
  readonly isKept: boolean
  /** The process does several runs, so that outputs are worth their memory. */
  readonly isLong: boolean
  readonly hasMaps?: boolean
  /** Results of files serve another run. */
  readonly isShared?: boolean | undefined
  readonly seed?: MemorySeed | undefined
}

/** The memory of another run of the process, which shares its results, and the files that are others now. */
export interface MemorySeed {
  readonly memory: SiteMemory
  readonly changed: ReadonlySet<string>
}

/** Opens the memory of a site. */
export function openSiteMemory(
  host: Host,
  { isKept, isLong, hasMaps = false, isShared = false, seed }: MemoryOptions,
): SiteMemory {
  const opened = isKept ? openRecordStore(createStorage(host), CACHE_FOLDER, { isReread: isLong }) : NO_STORE
  let isFrozen = false
  const store: RecordStore = {
    ...opened,
    put(key, json) {
      if (!isFrozen) opened.put(key, json)
    },
  }
  const state = openSiteState(
    host,
    isKept ? `${CACHE_FOLDER}/state.json` : undefined,
    seed && { state: seed.memory.state, changed: seed.changed },
  )
  const outputKey = (key: string): string => keyBeside(key, 'o')
  const bodies = openBodies(store, (key) => findOutput(store, outputKey(key)))
  const reasons = new Map<string, FileReason>()
  /** Files that were checked in this run. */
  const checked = new Set<string>()
  const later = new Map<string, () => void>()
  const results = isShared || isLong ? openSharedResults(seed?.memory.results) : undefined
  const records = isLong ? new Map<string, CheckedRecords>() : undefined
  return {
    hasMaps,
    reasons,
    setReason(file, reason) {
      reasons.set(file, reason)
      if (reason !== 'unchanged') checked.add(file)
    },
    store,
    isStored: isKept,
    state,
    bodies,
    results,
    memo: isLong ? createMemo() : FORGETFUL,
    records,
    generation: undefined,
    assets: new Map(seed?.memory.assets),
    outputOf(file) {
      const key = bodies.keyOf(file)
      return key === undefined ? undefined : findOutput(store, outputKey(key))
    },
    keepOutput(file, output, addresses) {
      const key = bodies.keyOf(file)
      if (key !== undefined && isKept) keepOutput(store, outputKey(key), output, addresses)
    },
    keepLater(place, keep) {
      if (isLong) later.set(place, keep)
      else keep()
    },
    begin(changed) {
      state.setChanged(changed)
      // What is not looked at again was not changed.
      for (const file of checked) reasons.set(file, 'unchanged')
      checked.clear()
    },
    forget(present) {
      for (const file of reasons.keys()) if (!present.has(file)) reasons.delete(file)
      const isThere = (place: string): boolean => present.has(place.slice(place.indexOf(' ') + 1))
      for (const place of records?.keys() ?? []) if (!isThere(place)) records?.delete(place)
      results?.forget(isThere)
      if (bodies.count() > present.size) bodies.forget((file) => present.has(file))
    },
    freeze() {
      isFrozen = true
    },
    async save(present) {
      for (const keep of later.values()) keep()
      later.clear()
      const saved = store.save()
      state.save(present)
      await saved
    },
  }
}

/** A host as a place for records. */
const createStorage = (host: Host): Storage => ({
  ...host,
  isFault: (error) => error instanceof HostError,
  isLeftOver: (name) => LEFT_OVER.test(name),
})

const NO_STORE: RecordStore = { get: () => undefined, put: () => undefined, save: async () => undefined }
