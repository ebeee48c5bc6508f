import type { Site } from '../query/open-site.ts'
import type { Answer } from './answer.ts'
import type { Question, QuestionProblem } from './read-question.ts'

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
  // Who imports the engine does not wait for all that answers take.
  const { findAnswer } = await import('./find-answer.ts')
  return findAnswer(site, question)
}
