import { createDiagnostic, type Diagnostic, type Place, type Span } from '../../diagnostics/diagnostic.ts'
import type { WrittenFacts } from '../../schema/body-facts.ts'
import type { BodyModel } from '../../schema/body-settings.ts'
import { BodyError } from '../body-error.ts'
import {
  addressesOf,
  type BlockUse,
  type BodyLink,
  type BodySummary,
  type CodeFence,
  type TextSummary,
} from '../body-summary.ts'
import { ADDRESS_ATTRIBUTES, findAddresses } from '../html-addresses.ts'
import { idsInHtml, silentImagesInHtml } from '../html-tags.ts'
import type { OutputOptions, ParsedBody, Rewrite } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { sanitiseHtml } from '../sanitise.ts'
import { readCodeInfo } from './code-info.ts'
import { describeTokens, inlineLinks, silentImages, textOfTokens } from './collect.ts'
import { createParser, type ParserOptions } from './markdown-parser.ts'
import { addRenderRules, rewriteAddresses } from './markdown-renderer.ts'
import { createUse, findUses } from './markdown-uses.ts'
import { createParsing, createStepParser, type Parsing, type StepParser } from './parsing.ts'
import { findRaw } from './raw-html.ts'
import { linesOf } from './source-map.ts'
import type { Token } from './token.ts'

/** The text of a body, and where it stands. */
export interface BodyText {
  readonly text: string
  readonly file: string
  readonly startOffset: number
}

/** Reads bodies of Markdown. */
export type MarkdownReader = (body: BodyText) => ParsedBody

/** A pattern of every address in a text, and of more; never of less. */
const CANDIDATE = new RegExp(
  String.raw`\]\(\s*([^\s)]*)|\]:\s*(\S+)|(?:${ADDRESS_ATTRIBUTES.join('|')})\s*=\s*(?=(?:"([^"]*)"|'([^']*)'|([^\s"'>]*)))`,
  'gi',
)
/** Every candidate for the address of a link, and whether it stands in a definition. */
const findCandidates = (text: string): { address: string; isDefined: boolean }[] =>
  Array.from(text.matchAll(CANDIDATE)).flatMap(([, inline, defined, double, single, bare]) => {
    const address = inline ?? defined ?? double ?? single ?? bare ?? ''
    // An attribute may hold many, each with a width behind it.
    const parts = /[\s,]/.test(address) ? address.split(/[\s,]+/) : []
    return [address, ...parts].map((part) => ({ address: part, isDefined: defined !== undefined }))
  })

/** A pattern of every picture without an alternative text, and of more; never of less. */
const SILENT = /!\[\s*\]|<img/i
const DIRECTIVE = /(?:^|[^\w:]):+[A-Za-z]/m
/** A pattern of every fence with a language, and of more; never of less. */
const FENCE = /(?:`{3,}|~{3,})[^\S\n]*([^\s{]+)/g

/** Makes a renderer of fields of Markdown. Where a collection is not trusted, no raw HTML is left. */
export function createFieldRenderer(
  settings: BodyModel | undefined,
  output: Pick<OutputOptions, 'highlighter'>,
): (text: string, rewrite: Rewrite) => string {
  const markdown = createParser({ blocks: [], settings })
  addRenderRules(markdown)
  const rawHtml = settings && settings.rawHtml !== 'keep' ? 'drop' : 'keep'
  return (text, rewrite) => {
    const environment = { output: { ...output, rewrite, properties: [] }, rawHtml }
    const tokens = markdown.parse(text, environment)
    rewriteAddresses(tokens, rewrite)
    return markdown.renderer.render(tokens, markdown.options, environment)
  }
}

/** Makes a reader. Texts are parsed step by step, as far as a question needs it. */
export function createMarkdownReader(options: ParserOptions & { readonly hasColours: boolean }): MarkdownReader {
  const markdown = createParser(options)
  addRenderRules(markdown)
  const hasPlugins = (options.settings?.markdownPlugins.length ?? 0) > 0
  const parser = createStepParser(markdown, hasPlugins)
  return (body) => createBody(body, parser, options)
}

function createBody(
  body: BodyText,
  parser: StepParser,
  { blocks, settings, hasColours }: ParserOptions & { readonly hasColours: boolean },
): ParsedBody {
  const { text, file, startOffset } = body
  const { hasPlugins, markdown } = parser
  const rawHtml = settings?.rawHtml ?? 'keep'
  const place = ([start, end]: Span): Place => ({ file, span: [start + startOffset, end + startOffset] })
  let parsing: Parsing | undefined
  const parse = (): Parsing => {
    parsing ??= createParsing(text, parser)
    return parsing
  }
  const linksOf = (tokens: readonly Token[], concerns: (content: string) => boolean): BodyLink[] =>
    tokens.flatMap((token, position): readonly BodyLink[] => {
      if (!/^(?:html_block|inline)$/.test(token.type) || !concerns(token.content)) return []
      const map = parse().map()
      if (token.type === 'html_block')
        return findAddresses(token.content).map(({ address, span }) => ({
          href: address,
          span: map.inline(position, span),
        }))
      return inlineLinks(parse().children(token), {
        content: token.content,
        place: (span) => map.inline(position, span),
      })
    })

  let facts: WrittenFacts | undefined
  const factsOf = (): WrittenFacts => {
    const names = usesOf().uses.flatMap(({ block }) => block ?? [])
    facts ??= describeTokens(parse().whole(), { blocks: names, hasRaw: rawHtml !== 'drop' })
    return facts
  }
  let found: { uses: readonly BlockUse[]; diagnostics: readonly Diagnostic[] } | undefined
  const usesOf = (): NonNullable<typeof found> => {
    if (found) return found
    const hasDirectives = blocks.length > 0 && settings?.extensions !== false && DIRECTIVE.test(text)
    const raw = hasDirectives ? findUses(parse().whole(), parse().map()) : []
    const unclosed = raw.filter(({ use }) => use.isOpen)
    found = {
      uses: raw.map(({ use, place: at }) => createUse(use, blocks, at)),
      diagnostics: unclosed.map(({ use: { name, span }, place: at }) =>
        createDiagnostic('block-unclosed', place(at(span)), { name }),
      ),
    }
    return found
  }
  const refuseRaw = (): Diagnostic[] =>
    findRaw(parse()).map(({ html, span }) => createDiagnostic('html-untrusted', place(span), { html }))
  const describeFailure = (): Diagnostic[] => {
    parse().whole()
    const failure = parse().failure()
    return failure ? [failureDiagnostic(failure, body)] : []
  }

  const silentImagesOf = (): Span[] => {
    if (!SILENT.test(text)) return []
    return parse()
      .whole()
      .flatMap((token, position): readonly Span[] => {
        const found =
          token.type === 'html_block'
            ? rawHtml === 'drop'
              ? []
              : silentImagesInHtml(token.content)
            : silentImages(token.children ?? [], rawHtml !== 'drop')
        return found.map((span) => parse().map().inline(position, span))
      })
  }

  const textSummary = (): TextSummary => {
    const silentImages = silentImagesOf()
    if (!hasPlugins)
      return { addresses: [...new Set(findCandidates(text).map(({ address }) => address))], silentImages }
    // A plugin can make links of anything.
    const links = linksOf(parse().whole(), () => true)
    return { addresses: addressesOf(links), links, silentImages }
  }

  return {
    textSummary,
    summary: (): BodySummary => ({
      ...textSummary(),
      languages: hasColours ? [...new Set(Array.from(text.matchAll(FENCE), ([, language = '']) => language))] : [],
      imports: [],
      uses: usesOf().uses,
    }),
    diagnostics() {
      return [
        ...usesOf().diagnostics,
        ...(hasPlugins ? describeFailure() : []),
        ...(settings?.trusted === false && text.includes('<') ? refuseRaw() : []),
      ]
    },
    ids() {
      const tokens = parse().blocks()
      return [
        ...parse().headingIds(),
        ...tokens.flatMap(({ type, content }) => (/html_block|inline/.test(type) ? idsInHtml(content) : [])),
      ]
    },
    links(isFine) {
      let everywhere = hasPlugins
      for (const { address, isDefined } of findCandidates(text)) {
        // Such an address can belong to a link anywhere.
        if (isDefined && !isFine(address)) everywhere = true
      }
      const tokens = everywhere ? parse().whole() : parse().blocks()
      const concerns = (content: string): boolean =>
        everywhere || findCandidates(content).some(({ address }) => !isFine(address))
      return linksOf(tokens, concerns).filter(({ href }) => !isFine(href))
    },
    fences(isFine) {
      const lines = linesOf(text)
      return parse()
        .blocks()
        .filter(({ type }) => type === 'fence')
        .flatMap((token): CodeFence[] => {
          const { language } = readCodeInfo(markdown.utils.unescapeAll(token.info))
          const [start, line] = lines[token.map?.[0] ?? 0] ?? [0, '']
          const at = start + Math.max(0, line.indexOf(language))
          return language === '' || isFine(language) ? [] : [{ language, span: [at, at + language.length] }]
        })
    },
    facts: factsOf,
    text: () => textOfTokens(parse().whole()),
    async output(output: OutputOptions) {
      const tokens = parse().whole()
      rewriteAddresses(tokens, output.rewrite)
      const environment = { ...parse().environment, output, opened: 0, rawHtml }
      // Of thousands of texts what was parsed would not fit into memory.
      parsing = undefined
      const html = renderTokens(() => markdown.renderer.render(tokens, markdown.options, environment), body)
      return { text: rawHtml === 'sanitise' ? await sanitiseHtml(html) : html }
    },
  }
}

function renderTokens(render: () => string, body: BodyText): string {
  try {
    return render()
  } catch (error) {
    throw error instanceof PluginFailure ? new BodyError(failureDiagnostic(error, body)) : error
  }
}

/** The error of a plugin as a problem of the text. */
function failureDiagnostic({ plugin, message, line, span }: PluginFailure, body: BodyText): Diagnostic {
  const [start, length] = line === undefined ? [0, 1] : lineAt(body.text, line)
  const [from, to] = span ?? [start, start + Math.max(1, length)]
  const at = { file: body.file, span: [from + body.startOffset, to + body.startOffset] as const }
  return createDiagnostic('plugin-failed', at, { plugin, reason: message })
}

function lineAt(text: string, line: number): [start: number, length: number] {
  const [start, content] = linesOf(text)[line] ?? [0, '']
  return [start, content.trimEnd().length]
}
