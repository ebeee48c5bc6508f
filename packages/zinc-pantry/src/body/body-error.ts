import type { Diagnostic } from '../diagnostics/diagnostic.ts'

/** A body that can be read and yet not be rendered. */
export class BodyError extends Error {
  readonly diagnostic: Diagnostic
  constructor(diagnostic: Diagnostic) {
    super(diagnostic.code)
    this.diagnostic = diagnostic
  }
}
