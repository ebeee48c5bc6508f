import type { PlanView, RowsQuestion } from 'zinc-pantry/inspect'
import { plural, sizeWords } from '../parts/words.ts'
import { useCall } from '../site/use-call.ts'

/** How a question was answered. */
export function Plan({ question }: { readonly question: RowsQuestion }) {
  const { answer } = useCall('answer', question)
  if (!answer || 'problem' in answer) return null
  return <PlanTable plan={answer.plan} milliseconds={answer.milliseconds} />
}

/** The steps of a plan. */
export const PlanTable = ({ plan, milliseconds }: { readonly plan: PlanView; readonly milliseconds: number }) => (
  <div className="plan">
    <ul>
      {plan.steps.map(({ part, index, rows }) => (
        <li key={part}>
          <code>{part}</code> by the index {index}: {plural(rows, 'row')}
        </li>
      ))}
      {plan.order === undefined ? null : <li>Order by the index {plan.order}</li>}
      <li>
        {plan.examined > 0 ? `Tested on ${plural(plan.examined, 'entry', 'entries')}` : 'No entry had to be tested'}
        {plan.sorted > 0 ? `, ${plan.sorted.toLocaleString('en-GB')} put in order by their values` : ''},{' '}
        {sizeWords(plan.bytes)} read, {milliseconds.toFixed(1)} ms
      </li>
    </ul>
  </div>
)
