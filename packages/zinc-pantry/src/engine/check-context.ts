import type { Host } from '../host/host.ts'
import type { Viewing } from '../link/publication.ts'
import type { SiteMemory } from './cache/site-memory.ts'
import type { SiteInputs } from './load-inputs.ts'
import type { Without } from './without.ts'

/** How far a check has come. */
export interface Progress {
  readonly done: number
  readonly total: number
  /** Default: `files`, which are checked. */
  readonly noun?: 'files' | 'images'
}

/** The surroundings of a check. */
export interface CheckContext extends SiteInputs {
  readonly host: Host
  readonly configurationFile: string
  readonly viewing: Viewing
  /** Nobody asks for entries, so that collections of which nothing can be told need not be read. */
  readonly isReportOnly?: boolean
  /** Lists files and pages that nothing uses. */
  readonly unused: boolean
  readonly memory: SiteMemory
  /** Content that is taken for not there. */
  readonly without?: Without
  onProgress?(progress: Progress): void
}
