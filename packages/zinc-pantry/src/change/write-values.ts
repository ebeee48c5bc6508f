import type { Attention, ChangeStep } from './change.ts'
import { editValues, type ValueChange } from './edit-values.ts'
import type { EditedSource } from './edited-source.ts'

/** A value that is to be another one, and what is said of it. */
export interface PlannedValue extends ValueChange {
  readonly reason: string
  /** For who has to write it, where it cannot be written with certainty. */
  readonly byHand: Attention
}

/** The steps that write values into files; `isWhole` says that comments in a value that goes may go with it. */
export function writeValues(
  changes: ReadonlyMap<EditedSource, readonly PlannedValue[]>,
  { isWhole = false }: { readonly isWhole?: boolean } = {},
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const written = [...changes].map(([source, own]) => {
    const { edits, failed } = editValues(source, own, { isWhole })
    const steps = edits.map(({ edit, at }): ChangeStep => {
      return { kind: 'edit', file: source.file, ...edit, reason: own[at]?.reason ?? '' }
    })
    return { steps, attention: failed.flatMap((at) => own[at]?.byHand ?? []) }
  })
  return { steps: written.flatMap(({ steps }) => steps), attention: written.flatMap(({ attention }) => attention) }
}
