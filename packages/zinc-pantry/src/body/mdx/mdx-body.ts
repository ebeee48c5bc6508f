import type { Root } from 'mdast'
import { createDiagnostic, type Diagnostic, type Place, type Span } from '../../diagnostics/diagnostic.ts'
import { BodyError } from '../body-error.ts'
import { addressesOf, type BodySummary } from '../body-summary.ts'
import type { BodyText } from '../markdown/markdown-body.ts'
import { linesOf } from '../markdown/source-map.ts'
import type { BodyOutput, OutputOptions, ParsedBody } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { NO_FACTS } from '../text-facts.ts'
import {
  describeTree,
  findFences,
  findHeadings,
  findImports,
  findLinks,
  findSilentImages,
  idsOf,
  textOfTree,
} from './collect.ts'
import { type AllowedComponents, findComponents, type UnknownComponent } from './components.ts'
import type { MdxCompiler } from './mdx-compiler.ts'
import { listNodes } from './visit.ts'

/** The description of a text of MDX, which is kept while its tree is not. */
interface Description {
  readonly summary: Required<BodySummary>
  readonly unknown: readonly UnknownComponent[]
}

const EMPTY: Description = {
  summary: {
    addresses: [],
    languages: [],
    links: [],
    fences: [],
    imports: [],
    silentImages: [],
    uses: [],
    ids: [],
    facts: NO_FACTS,
  },
  unknown: [],
}

/** How many trees are kept for compiling; of the texts beyond, each is parsed once more. */
export interface TreeBudget {
  left: number
}

interface DescribingOptions extends AllowedComponents {
  /** True where the text around links is told. */
  readonly hasExcerpts: boolean
}

/** The surroundings of a reader of MDX. */
export interface MdxContext extends DescribingOptions {
  readonly compiler: MdxCompiler
  readonly budget: TreeBudget
}

/** Reads a body of MDX. */
export function createMdxBody(
  body: BodyText,
  { compiler, blocks, takesAny, hasExcerpts, budget }: MdxContext,
): ParsedBody {
  const { file, startOffset } = body
  const place = ([start, end]: Span): Place => ({ file, span: [start + startOffset, end + startOffset] })
  let description: Description | undefined
  let fault: Diagnostic | undefined
  let kept: Root | undefined
  const read = (): Description => {
    description ??= parse()
    return description
  }
  const parse = (): Description => {
    try {
      const tree = compiler.parse(body.text)
      if (budget.left-- > 0) kept = tree
      return describe(tree, body.text, { blocks, takesAny, hasExcerpts })
    } catch (error) {
      fault = describeError(error, body, place)
      return EMPTY
    }
  }
  let output: Promise<BodyOutput> | undefined
  const compile = async (options: OutputOptions): Promise<BodyOutput> => {
    read()
    if (fault) return { text: '' }
    // Compiling changes the tree.
    const tree = kept ?? compiler.parse(body.text)
    kept = undefined
    try {
      return await compiler.compile(tree, body.text, options)
    } catch (error) {
      throw new BodyError(describeError(error, body, place))
    }
  }
  return {
    holdsTree: () => kept !== undefined,
    diagnostics() {
      const { unknown } = read()
      if (fault) return [fault]
      return unknown.map(({ span, ...parameters }) => createDiagnostic('component-unknown', place(span), parameters))
    },
    ids: () => read().summary.ids,
    headings() {
      read()
      return fault ? [] : findHeadings(kept ?? compiler.parse(body.text), body.text)
    },
    summary: () => read().summary,
    textSummary: () => read().summary,
    links: (isFine) => read().summary.links.filter(({ href }) => !isFine(href)),
    fences: (isFine) => read().summary.fences.filter(({ language }) => !isFine(language)),
    facts: () => read().summary.facts,
    text: () => {
      read()
      return fault ? '' : textOfTree(kept ?? compiler.parse(body.text))
    },
    output(options: OutputOptions) {
      output ??= compile(options)
      return output
    },
  }
}

function describe(tree: Root, text: string, { hasExcerpts, ...allowed }: DescribingOptions): Description {
  const nodes = listNodes(tree)
  const { uses, unknown } = findComponents(nodes, allowed)
  const names = uses.flatMap(({ block }) => block ?? [])
  const found = findLinks(nodes, text)
  const links = found.map(({ href, span }) => ({ href, span }))
  const fences = findFences(nodes, text)
  return {
    summary: {
      addresses: addressesOf(links),
      languages: [...new Set(fences.map(({ language }) => language))],
      links,
      fences,
      imports: findImports(nodes),
      silentImages: findSilentImages(nodes),
      uses,
      ids: idsOf(nodes),
      facts: describeTree(nodes, found, { blocks: names, hasExcerpts }),
    },
    unknown,
  }
}

interface Message {
  readonly reason?: string
  readonly place?: {
    readonly offset?: number
    readonly start?: { readonly offset?: number }
    readonly end?: { readonly offset?: number }
  }
}

/** The error of the compiler or of a plugin, at its place. */
function describeError(error: unknown, { text }: BodyText, place: (span: Span) => Place): Diagnostic {
  const { reason, place: at } = (error instanceof PluginFailure ? Object(error.cause) : Object(error)) as Message
  const start = Math.min(at?.start?.offset ?? at?.offset ?? saidOffset(reason ?? '', text) ?? 0, text.length)
  const stop = at?.end?.offset ?? (at ? start + 1 : lineEnd(text, start))
  const end = Math.max(start + 1, Math.min(stop, lineEnd(text, start)))
  // The readers of MDX descend by calling themselves.
  const isTooDeep = error instanceof RangeError && reason === undefined
  const said = isTooDeep
    ? 'it is nested too deeply'
    : (reason ?? (error instanceof Error ? error.message : String(error)))
  if (error instanceof PluginFailure)
    return createDiagnostic('plugin-failed', place([start, end]), { plugin: error.plugin, reason: said })
  const comment = commentAt(text, start)
  if (comment)
    return createDiagnostic('mdx-syntax', place(comment.span), { reason: shorten(said), comment: comment.inner })
  return createDiagnostic('mdx-syntax', place([start, end]), { reason: shorten(said) })
}

/** A comment of HTML whose sign of exclamation is at an offset, with what it says in one line. */
function commentAt(text: string, offset: number): { readonly span: Span; readonly inner: string } | undefined {
  const found = /^<!--(.*?)(?:-->|$)/s.exec(text.slice(Math.max(0, offset - 1)))
  if (!found) return undefined
  const [first = ''] = (found[1] ?? '').split('\n', 1)
  const start = Math.max(0, offset - 1)
  const inner = first === found[1] ? first : `${first} … `
  return { span: [start, start + (found[0].split('\n', 1)[0]?.length ?? 1)], inner: inner.length > 60 ? ' … ' : inner }
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
