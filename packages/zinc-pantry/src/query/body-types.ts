/** A heading of a body and those below it. */
export interface OutlineItem {
  readonly id: string
  readonly text: string
  /** From 1, as written. */
  readonly depth: number
  readonly children: readonly OutlineItem[]
}

/** What an entry says of its body without loading it. */
export interface EntryBody {
  readonly format: 'markdown' | 'mdx'
  readonly outline: readonly OutlineItem[]
  /** Addresses of links as written, each once, in order. */
  readonly links: readonly string[]
  readonly images: readonly { readonly src: string; readonly alt: string }[]
  /** Plain text of the first paragraph, or of all above a line with `<!-- more -->`. */
  readonly excerpt: string
  readonly words: number
  /** Reading time at 200 words a minute, at least 1. */
  readonly minutes: number
}
