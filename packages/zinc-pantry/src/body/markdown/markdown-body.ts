import type MarkdownIt from 'markdown-it'
import { createDiagnostic, type Diagnostic, type Span } from '../../diagnostics/diagnostic.ts'
import { createHeadingIds, takeWrittenId } from '../heading-ids.ts'
import type { BlockUse, BodyFacts, BodyLink, CodeFence, OutputOptions, ParsedBody } from '../parsed-body.ts'
import { readCodeInfo } from './code-info.ts'
import { describeTokens, inlineLinks, rawIds, rawLinks } from './collect.ts'
import { createParser, type ParserOptions } from './markdown-parser.ts'
import { addRenderRules, type RenderEnvironment, rewriteAddresses } from './markdown-renderer.ts'
import { createSourceMap, type SourceMap } from './source-map.ts'
import { noteOf, plainText, type RawUse, type Token } from './token.ts'

/** The text of a body, and where it stands. */
export interface BodyText {
  readonly text: string
  readonly file: string
  readonly startOffset: number
}

/** Reads bodies of Markdown. */
export type MarkdownReader = (body: BodyText) => ParsedBody

/** What every address in a text looks like, and more; never less. */
const CANDIDATE = /\]\(\s*([^\s)]*)|\]:\s*(\S+)|(?:href|src)\s*=\s*["']?([^\s"'>]*)/g
const DIRECTIVE = /(?:^|[^\w:]):+[A-Za-z]/m
const FENCE = /^[\t >*+\-\d.]*(?:`{3,}|~{3,})[^\S\n]*[^\s`]/m

interface Environment extends RenderEnvironment {
  references?: Readonly<Record<string, { href: string }>>
  footnotes?: unknown
}

/** Makes a reader. Texts are parsed step by step, as far as a question needs it. */
export function createMarkdownReader(options: ParserOptions): MarkdownReader {
  const markdown = createParser(options)
  addRenderRules(markdown)
  const rules = markdown.core.ruler.getRules('')
  const hasPlugins = options.plugins.length > 0
  return (body) => createBody(body, { markdown, rules, hasPlugins, blocks: options.blocks })
}

interface Parser {
  readonly markdown: MarkdownIt
  readonly rules: readonly ((state: InstanceType<MarkdownIt['core']['State']>) => void)[]
  /** True where plugins can change anything, so that no step can be left out. */
  readonly hasPlugins: boolean
  readonly blocks: readonly string[]
}

/** The rules that make blocks of a text; what they leave is read within lines. */
const BLOCK_RULES = 2

/** A text, as far as it is parsed. */
interface Parsing {
  readonly state: InstanceType<MarkdownIt['core']['State']>
  readonly environment: Environment
  readonly map: SourceMap
  isWhole: boolean
  ids: string[] | undefined
}

function createBody(body: BodyText, { markdown, rules, hasPlugins, blocks }: Parser): ParsedBody {
  const { text } = body
  let parsing: Parsing | undefined

  const parse = (): Parsing => {
    if (parsing) return parsing
    const environment: Environment = {}
    const state = new markdown.core.State(text, markdown, environment)
    for (const rule of rules.slice(0, BLOCK_RULES)) rule(state)
    parsing = { state, environment, isWhole: false, ids: undefined, map: createSourceMap(text, state.tokens) }
    return parsing
  }
  const toBlocks = (): readonly Token[] => parse().state.tokens
  /** Inline tokens of one content, without a trace in the rest of the text. */
  const readInline = (content: string): Token[] => {
    const children: Token[] = []
    const { environment } = parse()
    const footnotes = environment.footnotes && structuredClone(environment.footnotes)
    markdown.inline.parse(content, markdown, { ...environment, footnotes }, children)
    return children
  }
  const headingIds = (): string[] => {
    const current = parse()
    current.ids ??= addHeadingIds(current.state.tokens, readInline)
    return current.ids
  }
  const toWhole = (): Token[] => {
    headingIds()
    const current = parse()
    if (!current.isWhole) for (const rule of rules.slice(BLOCK_RULES)) rule(current.state)
    if (!current.isWhole && hasPlugins) current.ids = idsOf(current.state.tokens)
    current.isWhole = true
    return current.state.tokens
  }
  const mapOf = (): SourceMap => parse().map
  const linksOf = (tokens: readonly Token[], concerns: (content: string) => boolean): BodyLink[] =>
    tokens.flatMap((token, position): readonly BodyLink[] => {
      if (token.type === 'html_block' && concerns(token.content)) return blockLinks(token, text, mapOf())
      if (token.type !== 'inline' || !concerns(token.content)) return []
      const children = parse().isWhole ? (token.children ?? []) : readInline(token.content)
      return inlineLinks(children, token.content, position, mapOf())
    })

  let facts: BodyFacts | undefined
  const factsOf = (): BodyFacts => {
    facts ??= describeTokens(
      toWhole(),
      usesOf().uses.flatMap(({ block }) => block ?? []),
    )
    return facts
  }
  let found: { uses: readonly BlockUse[]; diagnostics: readonly Diagnostic[] } | undefined
  const usesOf = (): NonNullable<typeof found> => {
    if (found) return found
    if (blocks.length === 0 || !DIRECTIVE.test(text)) found = { uses: [], diagnostics: [] }
    else {
      const raw = rawUses(toWhole(), mapOf())
      const place = (span: Span): { file: string; span: Span } => ({
        file: body.file,
        span: [span[0] + body.startOffset, span[1] + body.startOffset],
      })
      found = {
        uses: raw.map(({ use, place: at }) => createUse(use, blocks, at)),
        diagnostics: raw.flatMap(({ use, place: at }) =>
          use.isOpen ? [createDiagnostic('block-unclosed', place(at(use.span)), { name: use.name })] : [],
        ),
      }
    }
    return found
  }

  return {
    get diagnostics() {
      return usesOf().diagnostics
    },
    ids() {
      if (hasPlugins) toWhole()
      const tokens = toBlocks()
      return [
        ...headingIds(),
        ...tokens.flatMap(({ type, content }) => (/html_block|inline/.test(type) ? rawIds(content) : [])),
      ]
    },
    links(isFine) {
      const suspects = new Set<string>()
      let everywhere = hasPlugins
      for (const [, inline, defined, raw] of text.matchAll(CANDIDATE)) {
        const address = inline ?? defined ?? raw ?? ''
        if (isFine(address)) continue
        suspects.add(address)
        // Such an address can belong to a link anywhere.
        if (defined !== undefined) everywhere = true
      }
      if (suspects.size === 0 && !hasPlugins) return []
      const tokens = everywhere ? toWhole() : toBlocks()
      const concerns = (content: string): boolean => everywhere || [...suspects].some((one) => content.includes(one))
      return linksOf(tokens, concerns).filter(({ href }) => !isFine(href))
    },
    uses: () => usesOf().uses,
    fences() {
      if (!FENCE.test(text)) return []
      const lines = createSourceMapLines(text)
      return toBlocks().flatMap((token): CodeFence[] => {
        const { language } = readCodeInfo(token.type === 'fence' ? token.info : '')
        const [start, line] = lines[token.map?.[0] ?? 0] ?? [0, '']
        const at = start + Math.max(0, line.indexOf(language))
        return language === '' ? [] : [{ language, span: [at, at + language.length] }]
      })
    },
    facts: factsOf,
    output(output: OutputOptions) {
      factsOf()
      const tokens = toWhole()
      rewriteAddresses(tokens, output.rewrite)
      const html = markdown.renderer.render(tokens, markdown.options, { ...parse().environment, output, opened: 0 })
      // Of thousands of texts what was parsed would not fit into memory.
      parsing = undefined
      return html
    },
  }
}

const createSourceMapLines = (text: string): (readonly [start: number, line: string])[] =>
  [...text.matchAll(/[^\r\n]*(?:\r\n|\r|\n|$)/g)].map((found) => [found.index, found[0]])

/** Gives headings their ids, before anything in their lines is parsed. */
function addHeadingIds(tokens: readonly Token[], readInline: (content: string) => Token[]): string[] {
  const makeId = createHeadingIds()
  return tokens.flatMap((token, position) => {
    const inline = tokens[position + 1]
    if (token.type !== 'heading_open' || !inline) return []
    const written = takeWrittenId(inline.content)
    if (written) inline.content = written.text
    const isPlain = /^[\p{L}\p{N} ,.?!'-]*$/u.test(inline.content)
    const id = makeId(isPlain ? inline.content : plainText(readInline(inline.content)), written?.id)
    token.attrSet('id', id)
    return [id]
  })
}

const idsOf = (tokens: readonly Token[]): string[] =>
  tokens.flatMap((token) => (token.type === 'heading_open' ? [String(token.attrGet('id') ?? '')] : []))

/** The links in a block of raw HTML. */
function blockLinks(token: Token, text: string, map: SourceMap): BodyLink[] {
  const lines = createSourceMapLines(text)
  const [start = 0] = lines[token.map?.[0] ?? 0] ?? []
  const found = text.indexOf(token.content.trim().split('\n', 1)[0] ?? '', start)
  const base = Math.max(start, found) - (token.content.length - token.content.trimStart().length)
  return rawLinks(token.content).map(({ href, span }) => {
    const at = map.plain(0) + base + span[0]
    return { href, span: [at, at + href.length] }
  })
}

interface PlacedUse {
  readonly use: RawUse
  place(span: Span): Span
}

function rawUses(tokens: readonly Token[], map: SourceMap): PlacedUse[] {
  return tokens.flatMap((token, position): PlacedUse[] => {
    const { use } = noteOf(token)
    if (use) return [{ use, place: ([start, end]) => [map.plain(start), map.plain(end)] }]
    return (token.children ?? []).flatMap((child) => {
      const inner = noteOf(child).use
      return inner ? [{ use: inner, place: (span: Span) => map.inline(position, span) }] : []
    })
  })
}

function createUse(use: RawUse, blocks: readonly string[], place: (span: Span) => Span): BlockUse {
  return {
    name: use.name,
    block: blocks.includes(use.name) ? use.name : undefined,
    values: Object.fromEntries(use.attributes.map(({ name, value }) => [name, value])),
    hasCells: true,
    open: new Set(),
    locate([property], part) {
      const attribute = use.attributes.find(({ name }) => name === property)
      return place(attribute ? (part === 'key' ? attribute.key : attribute.span) : use.span)
    },
  }
}
