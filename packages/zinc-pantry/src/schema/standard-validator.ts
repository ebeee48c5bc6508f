/**
 * A validator of another library, by the open Standard Schema interface, version 1. Only what is used
 * here is declared.
 */
export interface StandardValidator<Output = unknown> {
  readonly '~standard': {
    readonly version: 1
    readonly vendor: string
    readonly validate: (value: unknown) => StandardResult<Output> | Promise<StandardResult<Output>>
    readonly types?: { readonly input: unknown; readonly output: Output } | undefined
  }
}

/** The result of a validator for a value. */
export type StandardResult<Output> =
  | { readonly value: Output; readonly issues?: undefined }
  | { readonly issues: readonly StandardIssue[] }

/** One problem, with the way to it from the value that was checked. */
export interface StandardIssue {
  readonly message: string
  readonly path?: readonly (PropertyKey | { readonly key: PropertyKey })[] | undefined
}

/** True for a validator of another library. Some are functions with properties. */
export const isStandardValidator = (value: unknown): value is StandardValidator =>
  value !== null && (typeof value === 'object' || typeof value === 'function') && '~standard' in value
