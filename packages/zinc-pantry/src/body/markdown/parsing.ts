import type MarkdownIt from 'markdown-it'
import { createHeadingIds, takeWrittenId } from '../heading-ids.ts'
import { PluginFailure } from '../plugin-failure.ts'
import type { RenderEnvironment } from './markdown-renderer.ts'
import { rulesOf } from './rules.ts'
import { createSourceMap, type SourceMap } from './source-map.ts'
import { plainText, type Token } from './token.ts'

type CoreState = InstanceType<MarkdownIt['core']['State']>

/** A parser with its rules in two steps. */
export interface StepParser {
  readonly markdown: MarkdownIt
  /** The rules that find the blocks of a text. */
  readonly blockRules: readonly ((state: CoreState) => void)[]
  /** The rules that read within lines, and those behind them. */
  readonly lineRules: readonly ((state: CoreState) => void)[]
  /** True where plugins can change anything, so that no step can be left out. */
  readonly hasPlugins: boolean
  /** Makes the ids of headings, where that is the site's own. */
  readonly headingId: ((text: string) => string) | undefined
}

/** Takes the rules of a parser apart. */
export function createStepParser(markdown: MarkdownIt, own: Pick<StepParser, 'hasPlugins' | 'headingId'>): StepParser {
  const rules = markdown.core.ruler.getRules('')
  const names = rulesOf(markdown.core.ruler)
  const count = names.filter(({ enabled }) => enabled).findIndex(({ name }) => name === 'block') + 1
  return { markdown, ...own, blockRules: rules.slice(0, count), lineRules: rules.slice(count) }
}

/** The state of the parser of footnotes: the numbers of their names, and a list that grows as they are referred to. */
interface Footnotes {
  readonly refs?: Readonly<Record<string, number>>
  readonly list?: readonly object[]
}

interface Environment extends RenderEnvironment {
  footnotes?: Footnotes
}

/** Footnotes to be read and written by themselves. A copy would take as long as there are footnotes, for each line. */
const layOver = (footnotes: Footnotes | undefined): { footnotes?: Footnotes } =>
  footnotes
    ? {
        footnotes: {
          ...footnotes,
          refs: Object.create(footnotes.refs ?? null),
          ...(footnotes.list ? { list: footnotes.list.map((one) => ({ ...one })) } : {}),
        },
      }
    : {}

/** A text, parsed as far as it is asked for. */
export interface Parsing {
  readonly environment: Environment
  // Methods, not getters: see ParsedBody.
  map(): SourceMap
  /** The error that a plugin threw. */
  failure(): PluginFailure | undefined
  /** Tokens of blocks; nothing within lines is read. */
  blocks(): readonly Token[]
  /** All tokens. */
  whole(): Token[]
  /** The children of an inline token. */
  children(token: Token): readonly Token[]
  headingIds(): readonly string[]
  /** A text without backslashes in front of signs, and with character references read. */
  unescape(text: string): string
}

/** Parses a text step by step. */
export function createParsing(
  text: string,
  { markdown, blockRules, lineRules, hasPlugins, headingId }: StepParser,
): Parsing {
  const environment: Environment = {}
  const state = new markdown.core.State(text, markdown, environment)
  let isWhole = false
  let ids: string[] | undefined
  let failure: PluginFailure | undefined
  let map: SourceMap | undefined
  const attempt = (work: () => void): void => {
    try {
      work()
    } catch (error) {
      if (!(error instanceof PluginFailure)) throw error
      failure ??= error.line === undefined ? findLine(error, state.tokens, readInline) : error
      state.tokens = []
    }
  }
  /** Inline tokens of one content, without a trace in the rest of the text. */
  const readInline = (content: string): Token[] => {
    const children: Token[] = []
    markdown.inline.parse(content, markdown, { ...environment, ...layOver(environment.footnotes) }, children)
    return children
  }
  attempt(() => {
    for (const rule of blockRules) rule(state)
  })
  const parsing: Parsing = {
    environment,
    map() {
      map ??= createSourceMap(text, state.tokens)
      return map
    },
    failure: () => failure,
    blocks: () => (hasPlugins ? parsing.whole() : state.tokens),
    whole() {
      parsing.headingIds()
      if (!isWhole)
        attempt(() => {
          for (const rule of lineRules) rule(state)
        })
      if (!isWhole && hasPlugins) ids = idsOf(state.tokens)
      isWhole = true
      return state.tokens
    },
    children: (token) => (isWhole ? (token.children ?? []) : readInline(token.content)),
    headingIds() {
      if (!ids) attempt(() => (ids = addHeadingIds(state.tokens, readInline, headingId)))
      return ids ?? []
    },
    unescape: markdown.utils.unescapeAll,
  }
  return parsing
}

/** The failure with the line of the first text that brings it about. */
function findLine(
  failure: PluginFailure,
  tokens: readonly Token[],
  readInline: (content: string) => readonly Token[],
): PluginFailure {
  for (const { type, content, map } of tokens) {
    if (type !== 'inline' || !map) continue
    try {
      readInline(content)
    } catch {
      return new PluginFailure(failure.plugin, failure, undefined, map[0])
    }
  }
  return failure
}

const PLAIN = /^[\p{L}\p{N} ,.?!'-]*$/u

/** Gives headings their ids, before anything in their lines is parsed. */
function addHeadingIds(
  tokens: readonly Token[],
  readInline: (content: string) => Token[],
  makeOwn: StepParser['headingId'],
): string[] {
  const makeId = createHeadingIds(makeOwn)
  const ids: string[] = []
  for (let position = 0; position < tokens.length; position++) {
    const token = tokens[position] as Token
    const inline = token.type === 'heading_open' ? tokens[position + 1] : undefined
    if (!inline) continue
    const written = takeWrittenId(inline.content)
    if (written) inline.content = written.text
    const isPlain = /^[A-Za-z\d ,.?!'-]*$/.test(inline.content) || PLAIN.test(inline.content)
    const id = makeId(isPlain ? inline.content : plainText(readInline(inline.content)), written?.id)
    token.attrSet('id', id)
    ids.push(id)
  }
  return ids
}

const idsOf = (tokens: readonly Token[]): string[] =>
  tokens.flatMap((token) => (token.type === 'heading_open' ? [String(token.attrGet('id') ?? '')] : []))
