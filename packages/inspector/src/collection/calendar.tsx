import { ChevronLeft, ChevronRight } from 'lucide-react'
import { Button } from 'react-aria-components/Button'
import type { RowsQuestion } from 'zinc-pantry/inspect'
import { Link } from '../parts/link.tsx'
import { changeAddress, useAddress } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'
import { QuestionProblem } from './question-problem.tsx'

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const MOST = 1_000

/** The entries of an answer at their days, a month at a time. */
export function Calendar({
  question,
  field,
  label,
}: {
  readonly question: RowsQuestion
  /** The field with the day of an entry, and the one that it is called by. */
  readonly field: string
  readonly label: string
}) {
  const { values } = useAddress()
  const { answer: last } = useCall('rows', { ...question, fields: field, sort: `-${field}`, limit: 1 })
  const latest = last && 'rows' in last ? String(last.rows[0]?.[0] ?? '') : ''
  const today = new Date().toISOString().slice(0, 7)
  // A month in which there is something, where none is asked for.
  const month = values.get('month') ?? (latest !== '' && latest.slice(0, 7) < today ? latest.slice(0, 7) : today)
  const days = daysOf(month)
  const [first = '', end = ''] = [days[0], dayAfter(days.at(-1) ?? '')]
  const own = `${field} >= ${first} and ${field} < ${end}`
  const where = question.where === undefined ? own : `(${question.where}) and ${own}`
  const { answer } = useCall(
    'rows',
    { ...question, where, fields: `id,${label},${field}`, sort: field, limit: MOST },
    { keepsLast: true },
  )
  if (answer && 'problem' in answer) return <QuestionProblem problem={answer.problem} />
  const byDay = Map.groupBy(answer?.rows ?? [], (row) => String(row[2]).slice(0, 10))
  const go = (by: number): void => changeAddress({ month: monthAfter(month, by) })
  return (
    <section className="calendar">
      <div className="tools">
        <Button className="button" aria-label="The month before" onPress={() => go(-1)}>
          <ChevronLeft size={14} />
        </Button>
        <strong>
          {new Date(`${month}-01T00:00:00Z`).toLocaleDateString('en-GB', {
            month: 'long',
            year: 'numeric',
            timeZone: 'UTC',
          })}
        </strong>
        <Button className="button" aria-label="The month behind" onPress={() => go(1)}>
          <ChevronRight size={14} />
        </Button>
        <span className="quiet">by {field}</span>
      </div>
      <table>
        <thead>
          <tr>
            {DAYS.map((day) => (
              <th key={day} scope="col">
                <abbr title={day}>{day.slice(0, 3)}</abbr>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {weeksOf(days).map((week) => (
            <tr key={week[0]}>
              {week.map((day) => (
                <td key={day} className={day.startsWith(month) ? '' : 'other'}>
                  <time dateTime={day}>{Number(day.slice(8))}</time>
                  {(byDay.get(day) ?? []).map(([id, name]) => (
                    <Link
                      key={String(id)}
                      view="entry"
                      values={{ name: `${question.collection}/${id}`, locale: question.locale }}
                    >
                      {String(name ?? id)}
                    </Link>
                  ))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

const DAY_MS = 86_400_000

const dayAfter = (day: string, by = 1): string =>
  new Date(Date.parse(`${day}T00:00:00Z`) + by * DAY_MS).toISOString().slice(0, 10)

/** The days of a month, in whole weeks that begin on Monday. */
function daysOf(month: string): readonly string[] {
  const start = `${month}-01`
  const before = (new Date(`${start}T00:00:00Z`).getUTCDay() + 6) % 7
  const days: string[] = []
  for (let day = dayAfter(start, -before); day.slice(0, 7) <= month || days.length % 7 > 0; day = dayAfter(day))
    days.push(day)
  return days
}

const weeksOf = (days: readonly string[]): readonly (readonly string[])[] =>
  Array.from({ length: days.length / 7 }, (_, week) => days.slice(week * 7, week * 7 + 7))

function monthAfter(month: string, by: number): string {
  const date = new Date(`${month}-01T00:00:00Z`)
  date.setUTCMonth(date.getUTCMonth() + by)
  return date.toISOString().slice(0, 7)
}
