import type { ImageSource } from './image-sources.ts'

/** A heading and those below it. */
export interface OutlineItem {
  readonly id: string
  readonly text: string
  /** From 1, as written. */
  readonly depth: number
  readonly children: readonly OutlineItem[]
}

/** An image of a body. */
export interface BodyImage {
  /** The address that it has on the page. */
  readonly src: string
  readonly alt: string
  /** Pixels; null where they are not known, as of a picture from elsewhere. */
  readonly width: number | null
  readonly height: number | null
  /** What is made of it, where the setting `sources` of bodies asks for that. */
  readonly sources?: readonly ImageSource[]
}

/** The facts of a body, which are known without loading it. */
export interface BodyFacts {
  readonly outline: readonly OutlineItem[]
  /** The addresses that links have on the page, each once, in order. */
  readonly links: readonly string[]
  readonly images: readonly BodyImage[]
  /** The first of the images, as for a card in a list; null where there is none. */
  readonly firstImage: BodyImage | null
  /** Names of the blocks in it, each once, in order. */
  readonly blocks: readonly string[]
  /**
   * Plain text of the first paragraph, or of all above a line with `<!-- more -->` or, in MDX, {@literal `{/* more
   * *}`}.
   */
  readonly excerpt: string
  readonly words: number
  /** At 200 words a minute, at least 1. */
  readonly minutes: number
}

/** An image as it is written. */
export type WrittenImage = Pick<BodyImage, 'src' | 'alt'>

/** A link and the text around it, cut at words. */
export interface LinkExcerpt {
  readonly before: string
  readonly label: string
  readonly after: string
}

/** The facts of a body by itself: addresses are as they are written. */
export interface WrittenFacts extends Omit<BodyFacts, 'images' | 'firstImage'> {
  /** Of each of its links the first place; none where nobody asks for them. */
  readonly excerpts: readonly LinkExcerpt[]
  readonly images: readonly WrittenImage[]
  readonly firstImage: WrittenImage | null
}
