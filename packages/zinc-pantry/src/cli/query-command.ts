import { largest } from '../diagnostics/extremes.ts'
import { formatCount } from '../diagnostics/format-count.ts'
import {
  type Answer,
  answerQuestion,
  hasErrors,
  type OpenedSite,
  openContent,
  plural,
  type QuestionProblem,
} from '../engine/index.ts'
import { renderFacets } from './facets.ts'
import { createPalette } from './palette.ts'
import { renderPlan } from './plan.ts'
import { listMembers, renderCsv, renderJsonRows } from './query-formats.ts'
import { refuse } from './refuse.ts'
import { exitCodeOf, summaryLine } from './report.ts'
import { askSite, type CommonFlags } from './site-command.ts'
import { exitCodes, type Surroundings } from './surroundings.ts'
import { renderTable } from './table.ts'

/** Options of `query`. */
export interface QueryFlags extends CommonFlags {
  readonly where?: string
  readonly search?: string
  readonly sort?: string
  readonly fields?: string
  readonly facets?: string
  readonly groups?: string
  readonly each?: number
  readonly statistics?: string
  readonly plan?: boolean
  readonly tree?: boolean
  readonly locale?: string
  readonly limit?: number
  readonly offset?: number
  readonly format: 'table' | 'json' | 'csv'
}

/** The command `query`: entries of one collection on stdout, everything else on stderr. */
export async function runQueryCommand(
  collection: string | undefined,
  flags: QueryFlags,
  surroundings: Surroundings,
): Promise<number> {
  const { stdout, stderr } = surroundings
  const asking = OF_A_COLLECTION.find((name) => flags[name] !== undefined)
  if (collection === undefined && asking !== undefined)
    return refuse(
      surroundings,
      `--${asking} asks for something of a collection`,
      `Name it: zinc-pantry query COLLECTION --${asking}`,
    )
  const asked = await askSite(flags, surroundings, (options) =>
    openContent(collection === undefined ? options : { ...options, only: [collection] }),
  )
  if (!asked) return exitCodes.wrongUse
  const opened = asked.answer
  const code = exitCodeOf(opened.diagnostics)
  if (collection === undefined) {
    stdout.write(await listCollections(opened))
    return code
  }
  const answer = await answerQuestion(opened.site, { collection, ...flags })
  if ('problem' in answer) {
    stderr.write(describeProblem(answer.problem, surroundings))
    return exitCodes.wrongUse
  }
  const { text, leftOut } = renderAnswer(answer, flags, surroundings)
  stdout.write(text)
  const palette = createPalette(stderr, surroundings)
  stderr.write(countLine(answer, flags))
  if (leftOut.length > 0) stderr.write(palette.faint(`Not shown: ${leftOut.join(', ')}; --fields chooses what is\n`))
  if (flags.plan) stderr.write(renderPlan(answer.plan, palette))
  stderr.write(implicitLine(opened, answer))
  if (hasErrors(opened.diagnostics)) stderr.write(palette.warning(errorLine(opened)))
  stderr.write(summaryLine(opened, stderr, surroundings))
  return code
}

/** Says what is missing because of errors. */
function errorLine({ diagnostics, invalidCount, failedFileCount }: OpenedSite): string {
  const errors = diagnostics.filter(({ severity }) => severity === 'error').length
  const left = [
    ...(invalidCount > 0 ? [plural(invalidCount, 'entry', 'entries')] : []),
    ...(failedFileCount > 0 ? [plural(failedFileCount, 'file')] : []),
  ]
  const what =
    left.length > 0
      ? `${left.join(' and ')} with errors left out`
      : `No entry is left out for ${plural(errors, 'error')}`
  return `${what}; "zinc-pantry check" shows them\n`
}

/** Names of entries that are listed, before the rest is counted. */
const MOST_NAMED = 8

/** Says which entries of the collection no file holds. */
function implicitLine({ implicit }: OpenedSite, { collection }: Answer): string {
  const ids = implicit.filter((one) => one.collection === collection).map(({ id }) => id)
  if (ids.length === 0) return ''
  const more = ids.length > MOST_NAMED ? ` and ${formatCount(ids.length - MOST_NAMED)} more` : ''
  return `Made by references, in no file: ${ids.slice(0, MOST_NAMED).join(', ')}${more}\n`
}

function countLine({ rows, total, groupCount }: Answer, { statistics }: QueryFlags): string {
  const matches = total === 1 ? '1 entry matches' : `${plural(total, 'entry', 'entries')} match`
  if (statistics !== undefined && groupCount === undefined) return `${matches}\n`
  const found = groupCount === undefined ? matches : `${matches}, in ${plural(groupCount, 'group')}`
  return rows.length === (groupCount ?? total) ? `${found}\n` : `${found}, ${formatCount(rows.length)} shown\n`
}

/** Options that ask for something of a collection. */
const OF_A_COLLECTION = [
  'where',
  'search',
  'sort',
  'fields',
  'facets',
  'groups',
  'each',
  'statistics',
  'plan',
  'tree',
  'limit',
  'offset',
] as const satisfies readonly (keyof QueryFlags)[]

/** The names of all collections and how many entries each has. */
async function listCollections({ site }: OpenedSite): Promise<string> {
  const names = [...site.shapes.keys()]
  const counts = await Promise.all(names.map(async (name) => (await site.open(name)).count))
  const width = largest(names, (name) => name.length)
  return names.map((name, at) => `${name.padEnd(width)}  ${plural(counts[at] ?? 0, 'entry', 'entries')}\n`).join('')
}

function renderAnswer(
  answer: Answer,
  flags: QueryFlags,
  surroundings: Surroundings,
): { readonly text: string; readonly leftOut: readonly string[] } {
  const { stdout } = surroundings
  const { format, fields } = flags
  if (format === 'json') return { text: renderJsonRows(answer), leftOut: [] }
  if (format === 'csv') return { text: renderCsv(answer), leftOut: [] }
  const width = stdout.isTTY ? (stdout.columns ?? 80) : undefined
  const { strong: heading, faint } = createPalette(stdout, surroundings)
  const shown = listMembers(answer, true)
  const table = renderTable(flags.statistics === undefined ? shown : withRoundMeans(shown), {
    width,
    // Of all of them those are left out that make no readable cells.
    chosen: fields !== undefined && !/(?:^|,)\s*\*\s*(?:,|$)/.test(fields),
    heading,
  })
  return { text: table.text + renderFacets(answer, { width, heading, faint }), leftOut: table.leftOut }
}

/** Means as people read them; programs are given all digits. */
function withRoundMeans(answer: Answer): Answer {
  const mean = answer.columns.findIndex(({ name }) => name === 'mean')
  const round = (value: unknown): unknown => (typeof value === 'number' ? Number(value.toPrecision(6)) : value)
  return { ...answer, rows: answer.rows.map((row) => row.map((value, at) => (at === mean ? round(value) : value))) }
}

/** The words for a wrong part of a question, with a caret below the place. */
function describeProblem(
  { part, source, message, start, end, help }: QuestionProblem,
  surroundings: Surroundings,
): string {
  const { error, strong, faint } = createPalette(surroundings.stderr, surroundings)
  const lead = part === 'collection' ? 'query ' : `--${part} `
  const caret = `${' '.repeat(lead.length + start)}${error('^'.repeat(Math.max(1, end - start)))}`
  const lines = [`${error('error')} ${strong(message)}`, `  ${faint(lead)}${source}`, `  ${caret}`]
  if (help) lines.push(`  ${faint('help:')} ${help}`)
  return `${lines.join('\n')}\n`
}
