import type { Change, Refusal } from '../change/change.ts'
import type { Contents } from '../change/contents.ts'
import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { ExtractRequest } from './change/extract-planner.ts'
import type { ImportRequest } from './change/import-planner.ts'
import type { MendRequest } from './change/mend-planner.ts'
import type { Ask, NewRequest } from './change/new-planner.ts'
import type { MoveRequest } from './change/relocate-planner.ts'
import type { RemoveRequest } from './change/remove-planner.ts'
import type { RenameRequest } from './change/rename-planner.ts'
import type { SetRequest } from './change/set-planner.ts'
import type { WriteRequest } from './change/write-planner.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A change that is asked for. */
export type ChangeRequest =
  | RenameRequest
  | RemoveRequest
  | SetRequest
  | NewRequest
  | ImportRequest
  | ExtractRequest
  | MoveRequest
  | WriteRequest
  | MendRequest

/** How a change is made. */
export interface ChangeOptions extends SiteOptions {
  /** Nothing is written. Default: false. */
  readonly dryRun?: boolean
  /** Written although it makes new problems. Default: false. */
  readonly anyway?: boolean
  /** Asks for values of a new entry that must be there. Default: nobody is asked. */
  readonly ask?: Ask | undefined
}

/** A change that was made, or would be, and its proof. The report is that of the site as it was. */
export interface ChangeReport extends SiteReport {
  readonly change: Change
  /** The contents of all files that it changes, before and after; undefined for those that are not there. */
  readonly before: Contents
  readonly after: Contents
  /** The site as it is after it, or would be. */
  readonly outcome: SiteReport
  /** Problems that are there after it and were not there before. */
  readonly problems: SiteReport
  /** Problems of values that are still to be filled in, which keep nothing from being written. */
  readonly unfilled: readonly Diagnostic[]
  readonly isWritten: boolean
  /** Files that somebody else changed in the meantime, so that nothing was written. */
  readonly changed: readonly string[]
}

/** A change and its proof, or why there is none. */
export type ChangeAnswer = ChangeReport | (SiteReport & Refusal)
