import { type BodyText, createMarkdownReader } from './markdown/markdown-body.ts'
import type { NamedPlugin } from './markdown/markdown-parser.ts'
import type { ParsedBody } from './parsed-body.ts'

/** How the bodies of one collection are read. */
export interface ReaderOptions {
  /** Names of the site's blocks. */
  readonly blocks: readonly string[]
  readonly markdownPlugins: readonly NamedPlugin[]
}

/** Reads bodies; nothing is parsed before it is asked for. */
export type BodyReader = (body: BodyText, format: 'markdown' | 'mdx') => ParsedBody

/** Makes a reader for the bodies of one collection. */
export function createBodyReader({ blocks, markdownPlugins }: ReaderOptions): BodyReader {
  const readMarkdown = createMarkdownReader({ blocks, plugins: markdownPlugins })
  return (body) => readMarkdown(body)
}
