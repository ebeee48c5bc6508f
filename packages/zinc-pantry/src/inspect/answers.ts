import type { Answer } from '../engine/answer.ts'
import type { SiteView } from '../engine/describe/site-view.ts'
import { type OpenedAnswer, type OpenedFacet, openAnswer } from '../engine/find-answer.ts'
import type { QuestionProblem } from '../engine/read-question.ts'
import type { QueryPlan } from '../query/plan.ts'
import { writeCondition } from '../query/write-condition.ts'

/** A question of which a part of the rows is asked for. */
export interface RowsQuestion {
  readonly collection: string
  readonly where?: string
  readonly sort?: string
  readonly fields?: string
  readonly search?: string
  readonly locale?: string
  readonly offset?: number
  readonly limit?: number
}

/** Rows of an answer. */
export type RowsAnswer =
  | {
      readonly columns: Answer['columns']
      readonly rows: Answer['rows']
      readonly total: number
      readonly milliseconds: number
    }
  | { readonly problem: QuestionProblem }

/** What else there is to know of an answer. */
export type AnswerParts =
  | {
      readonly facets: readonly FacetView[]
      readonly plan: PlanView
      readonly milliseconds: number
    }
  | { readonly problem: QuestionProblem }

/** The counts of the values of a field, with what people see for ids. */
export interface FacetView {
  readonly name: string
  readonly counts: readonly {
    readonly value: string | number | boolean
    readonly count: number
    readonly label?: string
  }[]
}

/** How a query was answered, its parts in words. */
export interface PlanView extends Omit<QueryPlan, 'steps'> {
  readonly steps: readonly { readonly part: string; readonly index: string; readonly rows: number }[]
}

/** Ids have the labels of their entries beside them; an id with its collection in front is one of several. */
function withLabels({ name, counts, targets }: OpenedFacet, view: SiteView): FacetView {
  const labelOf = (value: unknown): string | undefined => {
    const found = targets.map((target) => view.find(target, String(value))).find((entry) => entry !== undefined)
    return found && view.labelOf(found)
  }
  const shown = counts.map(({ value, count }) => {
    const label = targets.length > 0 ? labelOf(value) : undefined
    return { value, count, ...(label === undefined ? {} : { label }) }
  })
  return { name, counts: shown }
}

/** So many answers are kept: as many as views are open. */
const MOST_KEPT = 8
const MOST_ROWS = 5_000

/** Answers questions of one site after the other; the parts of an answer come from one that is kept. */
export function createAnswers() {
  let asked: SiteView | undefined
  const kept = new Map<string, Promise<OpenedAnswer | { problem: QuestionProblem }>>()
  const open = (view: SiteView, { offset: _, limit: __, ...question }: RowsQuestion) => {
    if (asked !== view) kept.clear()
    asked = view
    const key = JSON.stringify(question)
    const known = kept.get(key) ?? view.query().then((site) => openAnswer(site, question))
    kept.delete(key)
    kept.set(key, known)
    for (const old of [...kept.keys()].slice(0, -MOST_KEPT)) kept.delete(old)
    return known
  }
  return {
    async rows(view: SiteView, question: RowsQuestion): Promise<RowsAnswer> {
      const started = performance.now()
      const answer = await open(view, question)
      if ('problem' in answer) return answer
      const { offset = 0, limit = 100 } = question
      const rows = await answer.rows(offset, Math.min(limit, MOST_ROWS))
      return { columns: answer.columns, rows, total: answer.total, milliseconds: performance.now() - started }
    },
    async parts(view: SiteView, question: RowsQuestion & { readonly facets?: string }): Promise<AnswerParts> {
      const started = performance.now()
      const answer = await open(view, question)
      if ('problem' in answer) return answer
      const { plan } = answer
      const steps = plan.steps.map(({ part, index, rows }) => ({ part: writeCondition(part), index, rows }))
      const facets = (await answer.facets()).map((one) => withLabels(one, view))
      return { facets, plan: { ...plan, steps }, milliseconds: performance.now() - started }
    },
  }
}
