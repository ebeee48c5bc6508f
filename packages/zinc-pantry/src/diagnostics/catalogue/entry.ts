import type { Severity } from '../severity.ts'

/** The words of one code. `message` is one line without a full stop; `help` names the edit. */
export interface CatalogueEntry<Parameters> {
  readonly severity: Severity
  message(parameters: Parameters): string
  help(parameters: Parameters): string | undefined
  /**
   * True where it says what was wrong with the machine or the network at the time, and may be different the next time.
   */
  readonly isFault?: true
}

export const error = <Parameters>(
  message: (parameters: Parameters) => string,
  help: (parameters: Parameters) => string | undefined = () => undefined,
): CatalogueEntry<Parameters> => ({ severity: 'error', message, help })

export const warning = <Parameters>(
  message: (parameters: Parameters) => string,
  help: (parameters: Parameters) => string | undefined = () => undefined,
): CatalogueEntry<Parameters> => ({ severity: 'warning', message, help })

/** The words of a problem that does not follow from content and configuration. */
export const fault = <Parameters>(entry: CatalogueEntry<Parameters>): CatalogueEntry<Parameters> => ({
  ...entry,
  isFault: true,
})

/** `Did you mean "x"?`, or the fallback when nothing is near. */
export const didYouMean = (suggestion: string | undefined, otherwise?: string): string | undefined =>
  suggestion === undefined ? otherwise : `Did you mean ${JSON.stringify(suggestion)}?`
