import type { BodyModel } from '../schema/body-settings.ts'
import { type BodyText, createMarkdownReader, type MarkdownReader } from './markdown/markdown-body.ts'
import { createMdxBody } from './mdx/mdx-body.ts'
import { loadMdxCompiler, type MdxCompiler } from './mdx/mdx-compiler.ts'
import type { ParsedBody } from './parsed-body.ts'

/** How the bodies of one collection are read. */
export interface ReaderOptions {
  /** Names of the site's blocks. */
  readonly blocks: readonly string[]
  readonly settings: BodyModel | undefined
  /** True where there is MDX among the bodies, so that its compiler is worth loading. */
  readonly hasMdx: boolean
}

/** Reads bodies; nothing is parsed before it is asked for. */
export type BodyReader = (body: BodyText, format: 'markdown' | 'mdx') => ParsedBody

/** Trees of MDX are large, about half a megabyte for a text of 3 KB. */
const KEPT_TREES = 400

/** Makes a reader for the bodies of one collection. Throws a `PluginFailure` where a plugin cannot be added. */
export async function createBodyReader({ blocks, settings, hasMdx }: ReaderOptions): Promise<BodyReader> {
  const readMarkdown: MarkdownReader = createMarkdownReader({ blocks, settings })
  const plugins = { remark: settings?.remarkPlugins ?? [], rehype: settings?.rehypePlugins ?? [] }
  const compiler: MdxCompiler | undefined = hasMdx ? await loadMdxCompiler(plugins) : undefined
  const budget = { left: KEPT_TREES }
  return (body, format) =>
    format === 'mdx' && compiler ? createMdxBody(body, { compiler, blocks, budget }) : readMarkdown(body)
}
