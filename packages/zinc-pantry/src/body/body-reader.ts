import type { BodyDemands, BodyModel } from '../schema/body-settings.ts'
import { type BodyText, createMarkdownReader, type MarkdownReader } from './markdown/markdown-body.ts'
import { createMdxBody } from './mdx/mdx-body.ts'
import { loadMdxCompiler, type MdxCompiler } from './mdx/mdx-compiler.ts'
import type { ParsedBody } from './parsed-body.ts'

/** How the bodies of one collection are read. */
export interface ReaderOptions extends BodyDemands {
  /** Names of the site's blocks. */
  readonly blocks: readonly string[]
  readonly settings: BodyModel | undefined
  /** True where code of MDX comes with what it was made from. */
  readonly hasMaps: boolean
  /** True where MDX is left to its compiler, even what our own code is sure of. */
  readonly compilesMdx?: boolean
}

/** Reads the bodies of one collection; nothing is parsed before it is asked for. */
export interface BodyReader {
  readMarkdown(body: BodyText): ParsedBody
  /** The compiler must be loaded. */
  readMdx(body: BodyText): ParsedBody
  /** Loads the compiler of MDX; it takes a moment, so only what has MDX to read should ask for it. */
  loadMdx(): Promise<void>
}

/** Trees of MDX are large, about half a megabyte for a text of 3 KB. */
const KEPT_TREES = 400

/** Makes a reader for the bodies of one collection. Throws a `PluginFailure` where a plugin cannot be added. */
export function createBodyReader({
  blocks,
  settings,
  hasMaps,
  hasColours,
  hasExcerpts,
  compilesMdx = false,
}: ReaderOptions): BodyReader {
  const readMarkdown: MarkdownReader = createMarkdownReader({ blocks, settings, hasColours, hasExcerpts })
  const budget = { left: KEPT_TREES }
  let compiler: MdxCompiler | undefined
  return {
    readMarkdown,
    readMdx(body) {
      if (!compiler) throw new Error('the compiler of MDX is not loaded')
      return createMdxBody(body, { compiler, blocks, takesAny: settings?.components === 'any', hasExcerpts, budget })
    },
    async loadMdx() {
      const { remarkPlugins: remark = [], rehypePlugins: rehype = [], headingId } = settings ?? {}
      const isAlwaysCompiled = compilesMdx || settings?.mdx === 'compiler'
      compiler ??= await loadMdxCompiler({ remark, rehype, headingId }, { hasMaps, isAlwaysCompiled })
    },
  }
}
