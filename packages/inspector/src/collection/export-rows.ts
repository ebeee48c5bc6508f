import type { CallAnswer, RowsQuestion } from 'zinc-pantry/inspect'
import { valueWords } from '../parts/words.ts'
import { call, isRefusal } from '../site/calls.ts'

type Rows = Extract<CallAnswer<'rows'>, { readonly rows: unknown }>

const BLOCK = 5_000

/** Gives a file with all rows of an answer to the browser. */
export async function exportRows(question: RowsQuestion, format: 'csv' | 'json'): Promise<void> {
  const rows: (readonly unknown[])[] = []
  let columns: Rows['columns'] = []
  for (let offset = 0; ; offset += BLOCK) {
    const answer = await call('rows', { ...question, offset, limit: BLOCK })
    if (isRefusal(answer) || 'problem' in answer) return
    columns = answer.columns
    for (const row of answer.rows) rows.push(row)
    if (rows.length >= answer.total || answer.rows.length === 0) break
  }
  const names = columns.map(({ name }) => name)
  const text =
    format === 'json'
      ? `${JSON.stringify(
          rows.map((row) => Object.fromEntries(names.map((name, at) => [name, row[at]]))),
          null,
          2,
        )}\n`
      : `${[names, ...rows].map((row) => row.map((cell) => writeCell(valueWords(cell))).join(',')).join('\r\n')}\r\n`
  const address = URL.createObjectURL(new Blob([text], { type: format === 'csv' ? 'text/csv' : 'application/json' }))
  const link = document.createElement('a')
  link.href = address
  link.download = `${question.collection}.${format}`
  link.click()
  // Some browsers read it only after the click has been handled.
  setTimeout(() => URL.revokeObjectURL(address), 10_000)
}

/** A cell by RFC 4180. */
const writeCell = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
