import { checkRequest } from '../query/check-request.ts'
import { countTogether, countValues, type ValueCount, withoutPath } from '../query/count-values.ts'
import type { Site } from '../query/open-site.ts'
import type { QueryPlan } from '../query/plan.ts'
import { startRun } from '../query/run.ts'
import { runQuery } from '../query/run-query.ts'
import { selectValues } from '../query/select-values.ts'
import type { Shape } from '../query/shape.ts'
import { computeStatistics } from '../query/statistics.ts'
import { arrangeTree, type TreeNode } from '../query/tree.ts'
import { type Question, type QuestionProblem, type ReadQuestion, readQuestion } from './read-question.ts'

/** The answer to a {@link Question}. */
export interface Answer {
  readonly collection: string
  readonly columns: readonly { readonly name: string; readonly shape: Shape }[]
  /** One row an entry, its cells in the order of the columns. */
  readonly rows: readonly (readonly unknown[])[]
  /** How deep each row stands in the tree, where that was asked for; what stands below is behind it. */
  readonly depths?: readonly number[]
  /** Entries that match, before limit and offset. */
  readonly total: number
  /** How many groups there are, before limit and offset, where they were asked for. */
  readonly groupCount?: number
  /** How many matching entries have each value of a field, conditions on the field itself left aside. */
  readonly facets: readonly { readonly name: string; readonly counts: readonly ValueCount[] }[]
  readonly plan: QueryPlan
}

/**
 * Answers a question in its text form, or says which part of it is wrong and where.
 *
 * @example
 * ```ts
 * import { answerQuestion, createNodeHost, openContent } from 'zinc-pantry/engine'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const answer = await answerQuestion(site, { collection: 'huts', where: 'beds >= 20', sort: '-beds' })
 * console.log('problem' in answer ? answer.problem.message : answer.rows)
 * ```
 */
export async function answerQuestion(site: Site, question: Question): Promise<Answer | { problem: QuestionProblem }> {
  const read = await readQuestion(site, question)
  if ('problem' in read) return read
  const { request, fields, parent } = read
  const { collection, locale } = request
  if (read.groups.length > 0 || read.statistics.length > 0) return summarise(site, read)
  const { entries, total, plan } = await runQuery(site, request)
  const table = await startRun(site, locale).open(collection)
  const cells = await Promise.all(fields.map(({ path }) => selectValues(table, entries, path)))
  const rows = entries.map((_, at) => cells.map((column) => column[at]))
  const answer = { collection, columns: fields, total, facets: await countFacets(site, read), plan }
  if (parent === undefined) return { ...answer, rows }
  const placed = listByDepth(arrangeTree(entries as readonly { readonly id: string }[], parent))
  const numbers = new Map(entries.map((entry, at) => [entry as unknown, at]))
  return {
    ...answer,
    rows: placed.map(({ entry }) => rows[numbers.get(entry) as number] ?? []),
    depths: placed.map(({ depth }) => depth),
  }
}

const NUMBER: Shape = { kind: 'number' }
const TEXT: Shape = { kind: 'text' }

/** Answers a question with counts or statistics in place of entries. */
async function summarise(site: Site, read: ReadQuestion): Promise<Answer> {
  const { request, groups, statistics } = read
  const { collection, limit, offset = 0 } = request
  const { total, plan } = await runQuery(site, { ...request, limit: 0, sort: [] })
  const table = await startRun(site, request.locale).open(collection)
  const answer = { collection, total, facets: await countFacets(site, read), plan }
  const end = limit === undefined ? undefined : offset + limit
  if (groups.length === 0) {
    const rows = statistics.map(async ({ name, path }) => {
      const { count, sum, mean, minimum, maximum } = await computeStatistics(table, { ...request, path })
      return [name, count, sum, mean, minimum, maximum]
    })
    const numbers = ['count', 'sum', 'mean', 'minimum', 'maximum'].map((name) => ({ name, shape: NUMBER }))
    return { ...answer, columns: [{ name: 'field', shape: TEXT }, ...numbers], rows: await Promise.all(rows) }
  }
  const counts = await countTogether(table, { ...request, paths: groups.map(({ path }) => path) })
  return {
    ...answer,
    columns: [...groups, { name: 'count', shape: NUMBER }],
    groupCount: counts.length,
    rows: counts.slice(offset, end).map(({ value, count }) => [...value, count]),
  }
}

/** Counts the values of the facets of a question. */
async function countFacets(site: Site, { request, facets }: ReadQuestion): Promise<Answer['facets']> {
  const { collection, condition, search, locale } = request
  const table = await startRun(site, locale).open(collection)
  const counted = facets.map(async ({ name, path }) => {
    return {
      name,
      counts: await countValues(table, { path, condition: withoutPath(condition, path, site.internals), search }),
    }
  })
  return Promise.all(counted)
}

/** An answer of which parts are given when they are asked for. */
export interface OpenedAnswer extends Pick<Answer, 'collection' | 'columns' | 'total' | 'plan'> {
  /** Rows from an offset. */
  rows(offset: number, limit: number): Promise<readonly (readonly unknown[])[]>
  facets(): Promise<readonly OpenedFacet[]>
}

/** The counts of the values of a field. */
export interface OpenedFacet {
  readonly name: string
  readonly counts: readonly ValueCount[]
  /** The collections that its values are ids of; none for other values. */
  readonly targets: readonly string[]
}

/** Answers a question for those who show a part of it at a time; limit, offset and tree are left aside. */
export async function openAnswer(site: Site, question: Question): Promise<OpenedAnswer | { problem: QuestionProblem }> {
  const { limit: _, offset: __, tree: ___, ...whole } = question
  const read = await readQuestion(site, whole)
  if ('problem' in read) return read
  const { fields, request } = read
  const { table, rows, total, order } = await site.internals.runRows(site, checkRequest(site, request))
  const { steps, examined, sorted, bytes } = table.run
  return {
    ...{ collection: request.collection, columns: fields, total },
    plan: { steps, order, examined, sorted, isScan: examined > 0 || sorted > 0, bytes },
    async rows(offset, limit) {
      const entries = await table.entries(rows.slice(offset, offset + limit))
      const cells = await Promise.all(fields.map(({ path }) => selectValues(table, entries, path)))
      return entries.map((_, at) => cells.map((column) => column[at]))
    },
    async facets() {
      const counted = await countFacets(site, read)
      return counted.map((facet, at) => ({ ...facet, targets: targetsOf(read.facets[at]?.shape) }))
    },
  }
}

/** The collection whose ids values of a shape are. */
function targetsOf(shape: Shape | undefined): readonly string[] {
  if (shape?.kind === 'list') return targetsOf(shape.item)
  return shape?.kind === 'ref' ? [shape.target] : []
}

/** The entries of a tree, each followed by those below it, with their depths. */
const listByDepth = <Entry>(
  nodes: readonly TreeNode<Entry>[],
  depth = 0,
): { readonly entry: Entry; readonly depth: number }[] =>
  nodes.flatMap(({ entry, children }) => [{ entry, depth }, ...listByDepth(children, depth + 1)])
