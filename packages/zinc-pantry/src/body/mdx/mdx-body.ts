import type { Root } from 'mdast'
import { createDiagnostic, type Diagnostic, type Place, type Span } from '../../diagnostics/diagnostic.ts'
import type { BodyFacts } from '../../schema/body-facts.ts'
import { BodyError } from '../body-error.ts'
import type { BodyText } from '../markdown/markdown-body.ts'
import { linesOf } from '../markdown/source-map.ts'
import type { BlockUse, BodyLink, CodeFence, OutputOptions, ParsedBody } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { NO_FACTS } from '../text-facts.ts'
import { describeTree, findFences, findLinks, idsOf, textOfTree } from './collect.ts'
import { findComponents, type UnknownComponent } from './components.ts'
import type { MdxCompiler } from './mdx-compiler.ts'

/** What reading a text of MDX gave. */
type Reading =
  | { readonly tree: Root; readonly uses: readonly BlockUse[]; readonly unknown: readonly UnknownComponent[] }
  | { readonly diagnostic: Diagnostic }

/** Reads a body of MDX. */
export function createMdxBody(body: BodyText, compiler: MdxCompiler, blocks: readonly string[]): ParsedBody {
  const { file, startOffset } = body
  const place = ([start, end]: Span): Place => ({ file, span: [start + startOffset, end + startOffset] })
  let reading: Reading | undefined
  const read = (): Reading => {
    reading ??= parse()
    return reading
  }
  const parse = (): Reading => {
    try {
      const tree = compiler.parse(body.text)
      return { tree, ...findComponents(tree, blocks) }
    } catch (error) {
      return { diagnostic: describeError(error, body, place) }
    }
  }
  const treeOf = (): Root | undefined => {
    const result = read()
    return 'tree' in result ? result.tree : undefined
  }
  const usesOf = (): readonly BlockUse[] => {
    const result = read()
    return 'uses' in result ? result.uses : []
  }
  let ids: readonly string[] | undefined
  let facts: BodyFacts | undefined
  const parsed: ParsedBody = {
    get diagnostics() {
      const result = read()
      if ('diagnostic' in result) return [result.diagnostic]
      return result.unknown.map(({ span, ...parameters }) =>
        createDiagnostic('component-unknown', place(span), parameters),
      )
    },
    ids() {
      ids ??= idsOf(treeOf())
      return ids
    },
    links: (isFine): BodyLink[] => findLinks(treeOf(), body.text).filter(({ href }) => !isFine(href)),
    uses: usesOf,
    fences: (): CodeFence[] => findFences(treeOf(), body.text),
    facts() {
      const tree = treeOf()
      facts ??= tree
        ? describeTree(
            tree,
            usesOf().flatMap(({ block }) => block ?? []),
          )
        : NO_FACTS
      return facts
    },
    text: () => textOfTree(treeOf()),
    output(options: OutputOptions) {
      output ??= compile(options)
      return output
    },
  }
  let output: Promise<string> | undefined
  const compile = async (options: OutputOptions): Promise<string> => {
    const tree = treeOf()
    if (!tree) return ''
    // Compiling changes the tree.
    parsed.ids()
    parsed.facts()
    try {
      return await compiler.compile(tree, body.text, options)
    } catch (error) {
      throw new BodyError(describeError(error, body, place))
    }
  }
  return parsed
}

interface Message {
  readonly reason?: string
  readonly place?: {
    readonly offset?: number
    readonly start?: { readonly offset?: number }
    readonly end?: { readonly offset?: number }
  }
}

/** What the compiler or a plugin threw, at its place. */
function describeError(error: unknown, { text }: BodyText, place: (span: Span) => Place): Diagnostic {
  const { reason, place: at } = (error instanceof PluginFailure ? Object(error.cause) : Object(error)) as Message
  const start = Math.min(at?.start?.offset ?? at?.offset ?? saidOffset(reason ?? '', text) ?? 0, text.length)
  const stop = at?.end?.offset ?? (at ? start + 1 : lineEnd(text, start))
  const end = Math.max(start + 1, Math.min(stop, lineEnd(text, start)))
  const said = reason ?? (error instanceof Error ? error.message : String(error))
  if (error instanceof PluginFailure)
    return createDiagnostic('plugin-failed', place([start, end]), { plugin: error.plugin, reason: said })
  return createDiagnostic('mdx-syntax', place([start, end]), { reason: shorten(said) })
}

/** A place that only the words name, as `(3:1-3:22)`. */
function saidOffset(reason: string, text: string): number | undefined {
  const [, line, column] = PLACE.exec(reason) ?? []
  const found = line === undefined ? undefined : linesOf(text)[Number(line) - 1]
  return found && found[0] + Number(column) - 1
}

const PLACE = / \((\d+):(\d+)(?:-\d+:\d+)?\)/

function lineEnd(text: string, start: number): number {
  const found = text.indexOf('\n', start)
  return found === -1 ? text.length : found
}

/** The compiler's own words, as the start of a sentence goes on; hints behind them are left out. */
function shorten(reason: string): string {
  const [first = ''] = reason.replace(PLACE, '').split(/\n| \(note: /, 1)
  return (first.length > 100 ? `${first.slice(0, 99)}…` : first).replace(/\.$/, '')
}
