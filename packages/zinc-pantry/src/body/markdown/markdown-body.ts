import { createDiagnostic, type Diagnostic, type Place, type Span } from '../../diagnostics/diagnostic.ts'
import type { WrittenFacts } from '../../schema/body-facts.ts'
import type { BodyDemands, BodyModel } from '../../schema/body-settings.ts'
import { BodyError } from '../body-error.ts'
import { addressesOf, type BlockUse, type BodySummary, type TextSummary } from '../body-summary.ts'
import type { OutputOptions, ParsedBody, Rewrite } from '../parsed-body.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { sanitiseHtml } from '../sanitise.ts'
import { type Candidate, findCandidates, findLanguages, mayBeSilent } from './candidates.ts'
import { describeTokens, textOfTokens } from './collect.ts'
import { findFences, findHeadings, findIds, findLinks, findSilentImages } from './locate.ts'
import { createParser, type ParserOptions } from './markdown-parser.ts'
import { addRenderRules, rewriteAddresses } from './markdown-renderer.ts'
import { createUse, findUses } from './markdown-uses.ts'
import { createParsing, createStepParser, type Parsing, type StepParser } from './parsing.ts'
import { findRaw } from './raw-html.ts'
import { linesOf } from './source-map.ts'

/** The text of a body, and where it stands. */
export interface BodyText {
  readonly text: string
  readonly file: string
  readonly startOffset: number
}

/** Reads bodies of Markdown. */
export type MarkdownReader = (body: BodyText) => ParsedBody

const DIRECTIVE = /(?:^|[^\w:]):+[A-Za-z]/m
/** Makes a renderer of fields of Markdown. Where a collection is not trusted, no raw HTML is left. */
export function createFieldRenderer(
  settings: BodyModel | undefined,
  output: Pick<OutputOptions, 'highlighter'>,
): (text: string, rewrite: Rewrite) => string {
  const markdown = createParser({ blocks: [], settings })
  addRenderRules(markdown)
  const rawHtml = settings && settings.rawHtml !== 'keep' ? 'drop' : 'keep'
  return (text, rewrite) => {
    const environment = { output: { rewrite, properties: [], ...output }, rawHtml }
    const tokens = markdown.parse(text, environment)
    rewriteAddresses(tokens, rewrite)
    return markdown.renderer.render(tokens, markdown.options, environment)
  }
}

/** How a parser is made, and what is asked of its texts. */
interface MarkdownReaderOptions extends ParserOptions, BodyDemands {}

/** Makes a reader. Texts are parsed step by step, as far as a question needs it. */
export function createMarkdownReader(options: MarkdownReaderOptions): MarkdownReader {
  const { markdownPlugins = [], headingId } = options.settings ?? {}
  const hasPlugins = markdownPlugins.length > 0
  let made: StepParser | undefined
  const open = (): StepParser => {
    if (made) return made
    const markdown = createParser(options)
    addRenderRules(markdown)
    made = createStepParser(markdown, { hasPlugins, headingId })
    return made
  }
  // A plugin that cannot be added is told at once. A parser without any takes 2 ms, and many collections parse nothing.
  if (hasPlugins) open()
  return (body) => createBody(body, { open, hasPlugins }, options)
}

function createBody(
  body: BodyText,
  { open, hasPlugins }: { readonly hasPlugins: boolean; open(): StepParser },
  { blocks, settings, hasColours, hasExcerpts }: MarkdownReaderOptions,
): ParsedBody {
  const { text, file, startOffset } = body
  const rawHtml = settings?.rawHtml ?? 'keep'
  const place = ([start, end]: Span): Place => ({ file, span: [start + startOffset, end + startOffset] })
  let parsing: Parsing | undefined
  const parse = (): Parsing => {
    parsing ??= createParsing(text, open())
    return parsing
  }

  let facts: WrittenFacts | undefined
  const factsOf = (): WrittenFacts => {
    const names = usesOf().uses.flatMap(({ block }) => block ?? [])
    facts ??= describeTokens(parse().whole(), { blocks: names, hasRaw: rawHtml !== 'drop', hasExcerpts })
    return facts
  }
  let found: { uses: readonly BlockUse[]; diagnostics: readonly Diagnostic[] } | undefined
  const usesOf = (): NonNullable<typeof found> => {
    if (found) return found
    const takesAny = settings?.components === 'any'
    const hasDirectives = (blocks.length > 0 || takesAny) && settings?.extensions !== false && DIRECTIVE.test(text)
    const raw = hasDirectives ? findUses(parse().whole(), parse().map()) : []
    const unclosed = raw.filter(({ use }) => use.isOpen)
    found = {
      uses: raw.map(({ use, place: at }) => createUse(use, { blocks, takesAny }, at)),
      diagnostics: unclosed.map(({ use: { name, span }, place: at }) =>
        createDiagnostic('block-unclosed', place(at(span)), { name }),
      ),
    }
    return found
  }
  const refuseRaw = (): Diagnostic[] =>
    findRaw(parse()).map(({ html, span }) => createDiagnostic('html-untrusted', place(span), { html }))

  const textSummary = (): TextSummary => {
    const silentImages = mayBeSilent(text) ? findSilentImages(parse(), rawHtml) : []
    // A plugin can make links of anything.
    const candidates = hasPlugins ? undefined : findCandidates(text)
    if (candidates?.every(({ isExact }) => isExact))
      return { addresses: [...new Set(candidates.map(({ address }) => address))], silentImages }
    const links = findLinks(parse(), parse().whole(), () => true)
    return { addresses: addressesOf(links), links, silentImages }
  }

  return {
    textSummary,
    summary(): BodySummary {
      const { addresses, links, silentImages } = textSummary()
      const languages = hasColours ? findLanguages(text) : []
      const { uses } = usesOf()
      // Named one by one: in Node 20 each object made by a spread that is often run has a hidden class of its own.
      const summary = { addresses, silentImages, languages, imports: [], uses }
      return links ? { ...summary, links } : summary
    },
    diagnostics() {
      return [
        ...usesOf().diagnostics,
        ...(hasPlugins || settings?.headingId ? describeFailure(parse(), body) : []),
        ...(settings?.trusted === false && text.includes('<') ? refuseRaw() : []),
      ]
    },
    ids: () => [...parse().headingIds(), ...findIds(parse().blocks())],
    headings: () => findHeadings(parse()),
    links(isFine) {
      const isTold = ({ address, isExact }: Candidate): boolean => !isExact || !isFine(address)
      // The address of a definition can belong to a link anywhere.
      const everywhere = hasPlugins || findCandidates(text).some((one) => one.isDefined && isTold(one))
      const tokens = everywhere ? parse().whole() : parse().blocks()
      const concerns = (content: string): boolean => everywhere || findCandidates(content).some(isTold)
      const links = findLinks(parse(), tokens, concerns).filter(({ href }) => !isFine(href))
      // A change may ask thousands of texts, once each.
      parsing = undefined
      return links
    },
    fences: (isFine) => findFences(parse(), text, isFine),
    facts: factsOf,
    text: () => textOfTokens(parse().whole()),
    async output(output: OutputOptions) {
      const tokens = parse().whole()
      rewriteAddresses(tokens, output.rewrite)
      const environment = { ...parse().environment, output, opened: 0, rawHtml }
      // Of thousands of texts what was parsed would not fit into memory.
      parsing = undefined
      const { markdown } = open()
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

/** The failure of a plugin, where there is one: all of a text is read for it. */
function describeFailure(parsing: Parsing, body: BodyText): Diagnostic[] {
  parsing.whole()
  const failure = parsing.failure()
  return failure ? [failureDiagnostic(failure, body)] : []
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
