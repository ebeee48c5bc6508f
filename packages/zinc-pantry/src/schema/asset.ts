/** The facts of a file that an entry names. */
export interface AssetFacts {
  /** Relative to the content folder, with forward slashes. */
  readonly file: string
  readonly sizeBytes: number
  /** The kind that its bytes show, such as `png`, or undefined where they show none. */
  readonly kind: string | undefined
  /** In pixels, for images. */
  readonly width: number | undefined
  readonly height: number | undefined
  /** True for images that move. */
  readonly isAnimated?: true | undefined
  /** Of its bytes. */
  readonly digest: string
  /** What the addresses of files begin with. */
  readonly base: string
}

/** An answer to a question for a file: its facts, or why there are none. */
export type AssetAnswer =
  | { readonly facts: AssetFacts }
  | { readonly missing: string; readonly suggestion?: string | undefined }
  | { readonly outside: true }
  /** The file is read by a collection that keeps something to itself. */
  | { readonly guarded: string }
