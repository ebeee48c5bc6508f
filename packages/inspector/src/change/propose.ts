import { useSyncExternalStore } from 'react'
import type { CallParameters, ChangeView } from 'zinc-pantry/inspect'

/** A change that somebody thinks of. */
export interface Proposed {
  readonly title: string
  readonly request: CallParameters<'change'>['request']
  /** Is told once it is made. */
  readonly onMade?: (made: ChangeView) => void
}

let proposed: Proposed | undefined
const listeners = new Set<() => void>()

/** Shows what a change would do, over whatever view there is; nothing takes it away. */
export function propose(change: Proposed | undefined): void {
  proposed = change
  for (const listener of listeners) listener()
}

/** The change that is shown. */
export const useProposed = (): Proposed | undefined =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => proposed,
  )
