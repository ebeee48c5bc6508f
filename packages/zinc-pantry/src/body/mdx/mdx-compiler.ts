import type { Root as HastRoot } from 'hast'
import type { Root } from 'mdast'
import type { PluggableList } from 'unified'
import type { NamedBodyPlugin } from '../../schema/body-settings.ts'
import type { BodyOutput, OutputOptions } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { addProperties } from './add-properties.ts'
import { finishTree } from './finish-tree.ts'
import { addHeadingIds } from './heading-ids.ts'
import { rewriteAddresses } from './rewrite.ts'
import { unravel } from './unravel.ts'

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

/** How MDX is compiled. */
export interface CompilerOptions {
  /** True where code comes with what it was made from. */
  readonly hasMaps: boolean
  /** True where all is left to the compiler, even what our own parser and writer are sure of. */
  readonly isAlwaysCompiled: boolean
}

/**
 * Loads the compiler; it takes a moment, so only what has MDX should ask for it.
 *
 * What most texts hold is read and written by our own code, many times as fast, to the very trees and the very code that the compiler
 * makes: a text that they are not sure of, or that has an error, is the compiler's. So is reading where a plugin extends the
 * syntax, and writing where a map is wanted.
 */
export async function loadMdxCompiler(
  { remark, rehype, headingId }: MdxPlugins,
  { hasMaps, isAlwaysCompiled }: CompilerOptions,
): Promise<MdxCompiler> {
  const [{ createProcessor, parseMdx, remarkGfm, remarkRehype, unified, VFile, writeModule }, maps] = await Promise.all(
    [import('./mdx-parts.ts'), hasMaps ? import('source-map') : undefined],
  )
  const ownRemark = () => (tree: Root, file: CompiledFile) => {
    addHeadingIds(tree, headingId)
    rewriteAddresses(tree, file.data.output.rewrite)
    addProperties(tree, file.data.output.properties)
  }
  const ownRehype = () => (tree: HastRoot, file: CompiledFile) => finishTree(tree, file.data.output.highlighter)
  const syntax = noteSyntax()
  const reader = createProcessor({
    format: 'mdx',
    remarkPlugins: [remarkGfm, syntax.before, ...remark.map(guard), syntax.after] as PluggableList,
  })
  const transformer = unified()
    .use([() => unravel, ...remark.map(guard), ownRemark] as PluggableList)
    .use(remarkRehype, { allowDangerousHtml: true, handlers: KEEP_CODE } as object)
    .use([...rehype.map(guard), ownRehype] as PluggableList)
  // It is given trees of HTML.
  const writer = createProcessor({
    format: 'mdx',
    outputFormat: 'function-body',
    SourceMapGenerator: maps?.SourceMapGenerator ?? null,
    rehypePlugins: [
      () => (_: unknown, file: { readonly data: { readonly html: HastRoot } }) => file.data.html,
    ] as PluggableList,
  })
  reader.freeze()
  const isOwnSyntax = !isAlwaysCompiled && !syntax.isExtended()
  const isOwnCode = !isAlwaysCompiled && !hasMaps
  return {
    parse(text) {
      const tree = (isOwnSyntax ? parseMdx(text) : undefined) ?? (reader.parse(text) as unknown as Root)
      // Ids are wanted before plugins run.
      addHeadingIds(tree, headingId)
      return tree
    },
    async compile(tree, text, options) {
      const file = new VFile({ value: text, data: { output: options } })
      const html = (await transformer.run(tree as never, file)) as unknown as HastRoot
      const written = isOwnCode ? writeModule(html) : undefined
      if (written !== undefined) return { text: written }
      file.data.html = html
      const program = await writer.run({ type: 'root', children: [] } as never, file as never)
      const code = writer.stringify(program as never, file as never) as string
      return { text: code, ...(file.map ? { map: { mappings: file.map.mappings, names: file.map.names } } : {}) }
    },
  }
}

/** Code and elements of JSX are in the tree of HTML as they are in that of Markdown; the compiler would copy them deeply. */
const KEEP_CODE = {
  mdxFlowExpression: (_: unknown, node: unknown) => node,
  mdxTextExpression: (_: unknown, node: unknown) => node,
  mdxjsEsm: (_: unknown, node: unknown) => node,
  mdxJsxFlowElement: keepElement,
  mdxJsxTextElement: keepElement,
}

function keepElement(state: { all(node: unknown): unknown[] }, node: object): unknown {
  return Object.assign({}, node, { children: state.all(node) })
}

/** Plugins around others, which tell whether those changed how texts are read. */
function noteSyntax() {
  type Processor = { readonly parser: unknown; data(): Record<string, unknown> }
  const look = ({ parser, data }: Processor): unknown[] => {
    const { micromarkExtensions, fromMarkdownExtensions } = data()
    return [
      parser,
      ...[micromarkExtensions, fromMarkdownExtensions].map((list) => (list as unknown[] | undefined)?.length),
    ]
  }
  let before: unknown[] = []
  let after: unknown[] = []
  return {
    before(this: Processor) {
      before = look({ parser: this.parser, data: () => this.data() })
    },
    after(this: Processor) {
      after = look({ parser: this.parser, data: () => this.data() })
    },
    isExtended: () => before.some((value, at) => value !== after[at]),
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
