import { suggestNearest } from '../diagnostics/suggest.ts'
import type { ConditionTree } from '../query/condition.ts'
import type { Site } from '../query/open-site.ts'
import type { QueryRequest } from '../query/query-request.ts'
import { readCondition } from '../query/text-form.ts'
import { type FieldScope, type NamedField, readFieldNames, readSortKeys } from '../query/text-form-fields.ts'
import type { TextFormProblem } from '../query/text-form-problem.ts'
import { type AskedColumn, type AskedFacet, readColumns, readFacets } from './question-parts.ts'

/** A query in its text form, as the command line takes it. */
export interface Question {
  readonly collection: string
  /** A condition, such as `region.name = North and beds >= 20`. Default: all entries. */
  readonly where?: string | undefined
  /** Names of fields with commas between them, `-` before a name for the largest first. */
  readonly sort?: string | undefined
  /**
   * Names of fields with commas between them, `*` for all, and of lists what is taken of their items:
   * `*,region.name` or `name,trails.each(title; where grade = hard; sort -distance; limit 3)`. Default: all.
   */
  readonly fields?: string | undefined
  /** Words to search for; the nearest entries come first unless there is `sort`. */
  readonly search?: string | undefined
  /** Names of fields with commas between them, whose values are to be counted; ids with what they are shown with: `region as region.name`. */
  readonly facets?: string | undefined
  /** Names of fields with commas between them: how many entries have each combination of values, in place of the entries. */
  readonly groups?: string | undefined
  /** How many entries of each group are given, in the order of `sort`. Default: none. */
  readonly each?: number | undefined
  /** Names of numbers with commas between them: their sum, mean, minimum and maximum, in place of the entries. */
  readonly statistics?: string | undefined
  /** Puts each entry below the one that it stands below, where the collection is a tree. Default: false. */
  readonly tree?: boolean | undefined
  readonly limit?: number | undefined
  readonly offset?: number | undefined
  /** The language of the entries (BCP 47). Default: the first of the site. */
  readonly locale?: string | undefined
}

type Part = 'where' | 'sort' | 'fields' | 'facets' | 'groups' | 'each' | 'statistics' | 'search' | 'locale' | 'tree'

/** A part of a question that cannot be read. */
export interface QuestionProblem extends TextFormProblem {
  readonly part: 'collection' | Part
  readonly source: string
}

const wrong = (part: Part, question: Question, problem: TextFormProblem): { problem: QuestionProblem } => ({
  problem: { ...problem, part, source: String(question[part] ?? '') },
})

/** A question that was read. */
export interface ReadQuestion {
  readonly request: QueryRequest
  readonly fields: readonly AskedColumn[]
  readonly facets: readonly AskedFacet[]
  readonly groups: readonly NamedField[]
  readonly statistics: readonly NamedField[]
  readonly each: number
  /** The reference to the entry above, where the answer is to be a tree. */
  readonly parent: string | undefined
}

/** Reads a question in its text form, or says which part of it is wrong and where. */
export async function readQuestion(
  site: Site,
  question: Question,
): Promise<ReadQuestion | { problem: QuestionProblem }> {
  const { collection } = question
  const shape = site.shapes.get(collection)
  if (!shape) return { problem: unknownCollection(site, collection) }
  const { locale } = question
  if (locale !== undefined && !site.locales.includes(locale))
    return wrong('locale', question, unknownLocale(locale, site.locales))
  const scope: FieldScope = { shape, shapes: site.shapes, suggest: suggestNearest }
  const where =
    question.where === undefined ? undefined : readCondition(question.where, collection, site.shapes, suggestNearest)
  if (where && 'problem' in where) return wrong('where', question, where.problem)
  const unbounded = where && (await findUnboundedPattern(where.condition))
  if (unbounded !== undefined) return wrong('where', question, refusePattern(question.where ?? '', unbounded))
  const sort = readSortKeys(question.sort ?? '', scope)
  if ('problem' in sort) return wrong('sort', question, sort.problem)
  const groups = readFieldNames(question.groups ?? '', scope)
  if ('problem' in groups) return wrong('groups', question, groups.problem)
  const { each = 0 } = question
  // Beside groups there is little room.
  const isGrouped = groups.fields.length > 0 && each > 0
  const usual = Object.entries(shape.fields ?? {})
    .filter(([name]) => name !== 'body')
    .map(([name, own]): NamedField => ({ name, path: [name], shape: own }))
  const chosen = readColumns(question.fields ?? (isGrouped ? 'id' : '*'), { ...scope, usual })
  if ('problem' in chosen) return wrong('fields', question, chosen.problem)
  const counted = readFacets(question.facets ?? '', scope)
  if ('problem' in counted) return wrong('facets', question, counted.problem)
  const statistics = readFieldNames(question.statistics ?? '', scope)
  if ('problem' in statistics) return wrong('statistics', question, statistics.problem)
  const notNumber = statistics.fields.find(({ shape: { kind } }) => kind !== 'number')
  if (notNumber) return wrong('statistics', question, refuseStatistics(question.statistics ?? '', notNumber.name))
  if (question.each !== undefined && groups.fields.length === 0)
    return wrong('each', question, {
      message: 'There are no groups to give entries of',
      start: 0,
      end: String(question.each).length,
      help: 'Name the fields that make them with "groups"',
    })
  const others = [groups.fields, statistics.fields].filter(({ length }) => length > 0)
  if (others.length > 1)
    return wrong('statistics', question, {
      message: 'Groups and statistics are two questions',
      start: 0,
      end: (question.statistics ?? '').length,
      help: 'Ask for one of them',
    })
  const { limit, offset = 0, search } = question
  if (search !== undefined && (await site.open(collection)).search === undefined)
    return wrong('search', question, {
      message: `${collection} cannot be searched`,
      start: 0,
      end: Math.max(1, search.length),
      help: 'Say in the setting "search" of the collection which fields are, such as { title: 3, body: 1 }',
    })
  const { parent } = site.stored(collection)
  if (question.tree && parent === undefined)
    return wrong(
      'tree',
      { ...question, tree: undefined },
      {
        message: `${collection} is no tree`,
        start: 0,
        end: 1,
        help: 'The setting "parent" of the collection names the reference to the entry above',
      },
    )
  const request = { collection, condition: where?.condition, search, sort: sort.keys, limit, offset, locale }
  const asked = question.tree ? parent : undefined
  return {
    request,
    fields: chosen.found,
    facets: counted.found,
    groups: groups.fields,
    statistics: statistics.fields,
    each,
    parent: asked,
  }
}

/** A pattern of a condition that cannot be matched in bounded time. */
async function findUnboundedPattern(tree: ConditionTree): Promise<string | undefined> {
  if ('part' in tree) return findUnboundedPattern(tree.part)
  if ('parts' in tree) {
    for (const part of tree.parts) {
      const found = await findUnboundedPattern(part)
      if (found !== undefined) return found
    }
    return undefined
  }
  if (tree.kind !== 'test' || tree.operator !== 'matches') return undefined
  const { compileBounded } = await import('../values/patterns/linear-matcher.ts')
  const pattern = String(tree.values[0])
  return compileBounded(pattern) ? undefined : pattern
}

function refuseStatistics(source: string, name: string): TextFormProblem {
  const start = Math.max(0, source.indexOf(name))
  return { message: `${name} is no number, so that it has no sum`, start, end: start + name.length }
}

function refusePattern(source: string, pattern: string): TextFormProblem {
  const start = Math.max(0, source.indexOf(pattern))
  const end = start + Math.max(1, source.includes(pattern) ? pattern.length : source.length)
  return { message: 'This pattern cannot be matched in bounded time: it looks ahead, behind or back', start, end }
}

function unknownLocale(locale: string, known: readonly string[]): TextFormProblem {
  const suggestion = suggestNearest(locale, known)
  const listed =
    known.length > 0 ? `There are ${known.join(', ')}` : 'The site has one language: its setting "locales" names none'
  return {
    message: `There is no language "${locale}"`,
    start: 0,
    end: Math.max(1, locale.length),
    help: suggestion ? `Did you mean "${suggestion}"?` : listed,
  }
}

function unknownCollection(site: Site, collection: string): QuestionProblem {
  const known = [...site.shapes.keys()]
  const suggestion = suggestNearest(collection, known)
  return {
    part: 'collection',
    source: collection,
    message: `There is no collection "${collection}"`,
    start: 0,
    end: Math.max(1, collection.length),
    help: suggestion ? `Did you mean "${suggestion}"?` : `There are ${known.join(', ')}`,
  }
}
