import { type ConditionCompletion, completeCondition } from '../engine/complete-condition.ts'
import type { Question, QuestionProblem } from '../engine/read-question.ts'
import { type QuestionCode, writeQuestionCode } from '../engine/write-query-code.ts'
import { type AnswerParts, createAnswers, type RowsAnswer, type RowsQuestion } from './answers.ts'
import type { CallContext, CallRefusal } from './call-context.ts'
import { type ChoiceQuestion, type ChoiceView, listChoices } from './choices.ts'

/** Makes what a page asks by conditions. */
export function createQuestionCalls({ withView }: CallContext) {
  const answers = createAnswers()
  return {
    /** Rows of the answer to a question, from an offset. */
    rows: (question: RowsQuestion): Promise<RowsAnswer | CallRefusal> =>
      withView((view) => answers.rows(view, question)),
    /** What else there is to know of an answer: facets, the plan. */
    answer: (question: RowsQuestion & { readonly facets?: string }): Promise<AnswerParts | CallRefusal> =>
      withView((view) => answers.parts(view, question)),
    /** What may come next in a condition. */
    complete: ({
      collection,
      text,
      at,
    }: {
      readonly collection: string
      readonly text: string
      readonly at: number
    }): Promise<ConditionCompletion | CallRefusal> =>
      withView<ConditionCompletion | CallRefusal>(async (view) => {
        const { shapes } = await view.query()
        if (!shapes.has(collection)) return { refused: `There is no collection "${collection}"` }
        const entriesOf = (name: string) =>
          view.entriesIn(name).map((entry) => ({ id: entry.id, label: view.labelOf(entry) }))
        return completeCondition(text, at, { collection, shapes, entriesOf })
      }),
    /** A question as code to copy. */
    code: (question: Question): Promise<QuestionCode | { readonly problem: QuestionProblem } | CallRefusal> =>
      withView(async (view) => writeQuestionCode(await view.query(), question)),
    choices: (question: ChoiceQuestion): Promise<readonly ChoiceView[] | CallRefusal> =>
      withView((view) => listChoices(view, question)),
  }
}
