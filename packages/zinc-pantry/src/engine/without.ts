/** A part of the content that is taken for not there. */
export interface Without {
  /** Files, relative to the content folder. */
  readonly files: readonly string[]
  isEntry(entry: { readonly collection: string; readonly id: string }): boolean
}
