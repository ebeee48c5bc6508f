import type { CallAnswer, CallRefusal } from 'zinc-pantry/inspect'
import { Notice, Refused } from '../parts/notice.tsx'

type Problem = Extract<CallAnswer<'rows'>, { readonly problem: unknown }>['problem']

/** Says which part of a question is wrong. */
export function QuestionProblem({ problem }: { readonly problem: Problem | CallRefusal | undefined }) {
  if (!problem) return null
  if ('refused' in problem) return <Refused refused={problem} />
  const { message, help, source, start, end } = problem
  return (
    <Notice tone="error">
      <strong>{message}</strong>
      {source === '' ? null : (
        <pre className="excerpt">
          <code className="marked">
            {source.slice(0, start)}
            <mark>{source.slice(start, end) || ' '}</mark>
            {source.slice(end)}
          </code>
        </pre>
      )}
      {help === undefined ? null : <div>{help}</div>}
    </Notice>
  )
}
