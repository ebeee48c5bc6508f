import type { Refusal } from '../../change/change.ts'
import type { Host } from '../../host/host.ts'
import { answerQuestion } from '../answer-question.ts'
import { openChecked } from '../open-content.ts'
import { readText } from '../read-text.ts'
import type { CheckedSite } from '../run-site.ts'
import type { ForeignFile, ImportRequest } from './import-planner.ts'

/** Reads a file that is imported, and what a query gives of the entries that are there. */
export async function readForeign(
  { file, collection, locale }: ImportRequest,
  checked: CheckedSite,
  host: Host,
): Promise<ForeignFile | Refusal> {
  const text = readText(host, file)
  if (text === undefined) return { refused: `${file} cannot be read` }
  const { site } = await openChecked(checked)
  const answer = await answerQuestion(site, { collection, locale })
  const now = host.clock()
  if ('problem' in answer) return { refused: answer.problem.message, help: answer.problem.help }
  const names = answer.columns.map(({ name }) => name)
  const at = names.indexOf('id')
  const given = new Map(
    answer.rows.map(
      (row) => [String(row[at]), new Map(names.map((name, column) => [name, row[column]] as const))] as const,
    ),
  )
  return { text, now, given }
}
