import { checkRequest } from '../query/check-request.ts'
import type { Scalar } from '../query/condition.ts'
import { countTogether, countValues, labelCounts, type ValueCount, withoutPath } from '../query/count-values.ts'
import type { Site } from '../query/open-site.ts'
import { pickValues } from '../query/pick.ts'
import { PLACE } from '../query/place.ts'
import { groupTogether } from '../query/row-values.ts'
import { startRun, type Table } from '../query/run.ts'
import { runQuery } from '../query/run-query.ts'
import type { Shape } from '../query/shape.ts'
import { computeStatistics } from '../query/statistics.ts'
import { arrangeTree, type TreeNode } from '../query/tree.ts'
import type { Answer, GroupMembers } from './answer.ts'
import { type AskedColumn, targetOf } from './question-parts.ts'
import { type Question, type QuestionProblem, type ReadQuestion, readQuestion } from './read-question.ts'

/** Answers a question, as `answerQuestion` does. */
export async function findAnswer(site: Site, question: Question): Promise<Answer | { problem: QuestionProblem }> {
  const read = await readQuestion(site, question)
  if ('problem' in read) return read
  const { request, fields, parent } = read
  const { collection, locale } = request
  if (read.groups.length > 0 || read.statistics.length > 0) return summarise(site, read)
  const { entries, total, plan } = await runQuery(site, request)
  const table = await startRun(site, locale).open(collection)
  const rows = await readCells(table, fields, entries)
  const answer = { collection, columns: fields, total, facets: await countFacets(site, read), plan }
  if (parent === undefined) return { ...answer, rows }
  const placed = listByDepth(arrangeTree(entries as readonly { readonly id: string }[], parent))
  const numbers = new Map(entries.map((entry, at) => [entry as unknown, at]))
  return {
    ...answer,
    columns: [...fields, { name: 'below', shape: NUMBER }],
    rows: placed.map(({ entry, below }) => [...(rows[numbers.get(entry) as number] ?? []), below]),
    depths: placed.map(({ depth }) => depth),
  }
}

/** The cells of entries in the columns of an answer. */
async function readCells(
  table: Table,
  columns: readonly AskedColumn[],
  entries: readonly unknown[],
): Promise<readonly (readonly unknown[])[]> {
  const cells = await Promise.all(columns.map((column) => pickValues(table, entries, specOf(column))))
  return entries.map((_, at) => cells.map((column) => column[at]))
}

/** What a pick is told of a column, as handles tell it. */
function specOf({ path, shape, items }: Pick<AskedColumn, 'path' | 'shape' | 'items'>): unknown {
  if (!items) return { [PLACE]: { path, shape } }
  const { fields, select } = items
  const [only = ITSELF] = fields
  const each = fields.length < 2 ? specOf(only) : Object.fromEntries(fields.map((one) => [one.name, specOf(one)]))
  return { [PLACE]: { path, shape, each, select } }
}

/** An item as it is. */
const ITSELF = { path: [], shape: { kind: 'anything' } } as const

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
  const paths = groups.map(({ path }) => path)
  const counts = await countTogether(table, { ...request, paths })
  const shown = counts.slice(offset, end)
  const grouped = {
    ...answer,
    columns: [...groups, { name: 'count', shape: NUMBER }],
    groupCount: counts.length,
    rows: shown.map(({ value, count }) => [...value, count]),
  }
  return read.each === 0 ? grouped : { ...grouped, members: await readMembers(site, read, { paths, shown }) }
}

/** The first entries of each group, in the order that was asked for. */
async function readMembers(
  site: Site,
  { request, fields, each }: ReadQuestion,
  { paths, shown }: { readonly paths: readonly (readonly string[])[]; readonly shown: readonly GroupCount[] },
): Promise<GroupMembers> {
  const { limit: _, offset: __, ...all } = request
  const { table, rows } = await site.internals.runRows(site, checkRequest(site, all))
  const groups = await groupTogether(table, paths, rows)
  const placesOf = new Map(groups.map(({ values, places }) => [JSON.stringify(values), places.slice(0, each)]))
  const cells = shown.map(async ({ value }) => {
    const places = placesOf.get(JSON.stringify(value)) ?? []
    return readCells(table, fields, await table.entries(places.map((at) => rows[at] as number)))
  })
  return { columns: fields, rows: await Promise.all(cells) }
}

type GroupCount = ValueCount<readonly (Scalar | null)[]>

/** Counts the values of the facets of a question. */
async function countFacets(site: Site, { request, facets }: ReadQuestion): Promise<Answer['facets']> {
  const { collection, condition, search, locale } = request
  const table = await startRun(site, locale).open(collection)
  const counted = facets.map(async ({ name, path, shape, label }) => {
    const counts = await countValues(table, { path, condition: withoutPath(condition, path, site.internals), search })
    const target = targetOf(shape)
    if (!label || !target) return { name, counts }
    return { name, counts: await labelCounts(table, counts, { shape: target, path: label.path.slice(path.length) }) }
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
      return readCells(table, fields, await table.entries(rows.slice(offset, offset + limit)))
    },
    async facets() {
      const counted = await countFacets(site, read)
      return counted.map((facet, at) => ({ ...facet, targets: targetsOf(read.facets[at]?.shape) }))
    },
  }
}

/** The collection whose ids values of a shape are. */
function targetsOf(shape: Shape | undefined): readonly string[] {
  const target = targetOf(shape)
  return target?.kind === 'ref' ? [target.target] : []
}

/** The entries of a tree, each followed by those below it, with their depths and the numbers of those. */
const listByDepth = <Entry>(
  nodes: readonly TreeNode<Entry>[],
  depth = 0,
): { readonly entry: Entry; readonly depth: number; readonly below: number }[] =>
  nodes.flatMap(({ entry, children, below }) => [{ entry, depth, below }, ...listByDepth(children, depth + 1)])
