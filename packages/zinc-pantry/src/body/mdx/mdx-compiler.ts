import type { Root as HastRoot } from 'hast'
import type { Root } from 'mdast'
import type { PluggableList } from 'unified'
import { VFile } from 'vfile'
import type { NamedBodyPlugin } from '../../schema/body-settings.ts'
import type { BodyOutput, OutputOptions } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { addProperties } from './add-properties.ts'
import { finishTree } from './finish-tree.ts'
import { addHeadingIds } from './heading-ids.ts'
import { rewriteAddresses } from './rewrite.ts'

/** Compiles MDX. */
export interface MdxCompiler {
  /** Reads a text; throws where it is no MDX. */
  parse(text: string): Root
  /** The code of a function that is given a JSX runtime. */
  compile(tree: Root, text: string, options: OutputOptions): Promise<BodyOutput>
}

/** A text on its way through the compiler, with what our own steps need. */
interface CompiledFile {
  readonly value: string
  readonly data: { readonly output: OutputOptions }
}

/** The plugins of a collection. */
export interface MdxPlugins {
  readonly remark: readonly NamedBodyPlugin[]
  readonly rehype: readonly NamedBodyPlugin[]
  /** Makes the ids of headings, where that is the site's own. */
  readonly headingId?: ((text: string) => string) | undefined
}

/** Loads the compiler; it takes a moment, so only what has MDX should ask for it. */
export async function loadMdxCompiler(
  { remark, rehype, headingId }: MdxPlugins,
  hasMaps: boolean,
): Promise<MdxCompiler> {
  const [{ createProcessor }, { default: remarkGfm }, maps] = await Promise.all([
    import('@mdx-js/mdx'),
    import('remark-gfm'),
    hasMaps ? import('source-map') : undefined,
  ])
  const ownRemark = () => (tree: Root, file: CompiledFile) => {
    addHeadingIds(tree, headingId)
    rewriteAddresses(tree, file.data.output.rewrite)
    addProperties(tree, file.data.output.properties)
  }
  const ownRehype = () => (tree: HastRoot, file: CompiledFile) => finishTree(tree, file.data.output.highlighter)
  const processor = createProcessor({
    format: 'mdx',
    outputFormat: 'function-body',
    SourceMapGenerator: maps?.SourceMapGenerator ?? null,
    remarkPlugins: [remarkGfm, ...remark.map(guard), ownRemark] as PluggableList,
    rehypePlugins: [...rehype.map(guard), ownRehype] as PluggableList,
  })
  return {
    parse(text) {
      const tree = processor.parse(text) as unknown as Root
      // Ids are wanted before plugins run.
      addHeadingIds(tree, headingId)
      return tree
    },
    async compile(tree, text, options) {
      const file = new VFile({ value: text, data: { output: options } })
      const program = await processor.run(tree as never, file as never)
      const code = processor.stringify(program as never, file as never) as string
      return { text: code, ...(file.map ? { map: { mappings: file.map.mappings, names: file.map.names } } : {}) }
    },
  }
}

/** A plugin that says its name when it fails. */
function guard({ name, plugin, options }: NamedBodyPlugin): () => unknown {
  return function guarded(this: unknown) {
    const transform = attempt(name, () => plugin.apply(this, [...options]))
    if (typeof transform !== 'function') return transform
    return (...parameters: unknown[]) =>
      attempt(name, () => (transform as (...all: unknown[]) => unknown)(...parameters))
  }
}

function attempt(name: string, work: () => unknown): unknown {
  const fail = (error: unknown): never => {
    throw new PluginFailure(name, error)
  }
  try {
    const result = work()
    return result instanceof Promise ? result.catch(fail) : result
  } catch (error) {
    return fail(error)
  }
}
