import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import type { Host } from '../host/host.ts'
import type { ImplicitEntry } from '../link/implicit-entries.ts'
import type { Progress } from './check-context.ts'
import type { FileAccount } from './file-account.ts'

/** The options of a run over a site. */
export interface SiteOptions {
  readonly host: Host
  /** Relative to the host's root. */
  readonly configurationFile: string
  /** Drafts, and what is not yet or no longer to be seen, are part of the output too. Default: false. */
  readonly drafts?: boolean
  /** Lists files that no entry uses and pages to which nothing leads, as warnings. Default: false. */
  readonly unused?: boolean
  /** The moment by which dates of publication are compared, as an instant in UTC. Default: now. */
  readonly instant?: string
  /**
   * Results are kept in the folder `.pantry/cache`, so that the next run does only what changed. Default: true.
   */
  readonly cache?: boolean
  /**
   * Of `openContent`: the collections that are asked for. What questions to them do not need is not read, nor told of; where one of
   * them has bodies or functions, which may look at anything, all is. Default: all.
   */
  readonly only?: readonly string[]
  /** A file, relative to the root, of which a build tells what it did with it and why. Default: none. */
  readonly why?: string
  /** Called now and then while files are checked, and images made. */
  onProgress?(progress: Progress): void
}

/** The report of a run over a site. */
export interface SiteReport {
  /** In the order of files and places. */
  readonly diagnostics: readonly Diagnostic[]
  /** The texts that diagnostics point into. */
  readonly textOf: TextSource
  readonly entryCount: number
  readonly fileCount: number
  /** Files of the content folder that belong to no collection, pictures and the like included. */
  readonly unmatchedCount: number
  readonly collectionCount: number
  /** The names of the collections, in the order of the configuration. */
  readonly collectionNames: readonly string[]
  /** Entries that references made, in the order of collections and ids. */
  readonly implicit: readonly ImplicitEntry[]
  readonly milliseconds: number
}

/** The report of what never came to be a run. */
export const EMPTY_REPORT: SiteReport = {
  diagnostics: [],
  textOf: () => undefined,
  entryCount: 0,
  fileCount: 0,
  unmatchedCount: 0,
  collectionCount: 0,
  collectionNames: [],
  implicit: [],
  milliseconds: 0,
}

/** A {@link SiteReport} of a build. */
export interface BuildReport extends SiteReport {
  /** Relative to the host's root; undefined where nothing was written because of errors. */
  readonly output: string | undefined
  /** How large the orders are that collections keep, by `collection.path`, in bytes, where something was written. */
  readonly orderSizes?: Readonly<Record<string, number>>
  /** Files that had to be written; the others were right already. */
  readonly writtenCount: number
  /** Where it was asked for. */
  readonly account?: FileAccount
}
