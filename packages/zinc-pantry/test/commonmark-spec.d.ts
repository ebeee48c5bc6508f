declare module 'commonmark-spec' {
  /** The examples of the specification; tabs are written as arrows. */
  export const tests: readonly { readonly markdown: string; readonly html: string; readonly number: number }[]
}
