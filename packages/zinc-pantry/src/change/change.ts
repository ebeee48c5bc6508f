import type { Place, Span } from '../diagnostics/diagnostic.ts'

/** One step of a change. Files are relative to the site's root. */
export type ChangeStep =
  | {
      readonly kind: 'edit'
      readonly file: string
      /** In the text as it was before the change. */
      readonly span: Span
      readonly text: string
      readonly reason: string
    }
  | { readonly kind: 'make'; readonly file: string; readonly text: string; readonly reason: string }
  | { readonly kind: 'move'; readonly file: string; readonly to: string; readonly reason: string }
  | { readonly kind: 'delete'; readonly file: string; readonly reason: string }

/** An edit of a text, as a step of a change. */
export type EditStep = Extract<ChangeStep, { kind: 'edit' }>

/** A place that a person must look at, since nothing there can be changed with certainty. */
export interface Attention {
  readonly place: Place
  readonly words: string
}

/**
 * A change of the content or of the configuration, before it is made: plain data. Edits of one file do not overlap; those of
 * a file that is moved as well are of its text before it is.
 */
export interface Change {
  /** In one line. */
  readonly words: string
  readonly steps: readonly ChangeStep[]
  readonly attention: readonly Attention[]
}

/** A request that cannot be a change, and why. */
export interface Refusal {
  readonly refused: string
  readonly help?: string | undefined
}
