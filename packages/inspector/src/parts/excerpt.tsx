import type { ProblemView } from 'zinc-pantry/inspect'

/** The lines around a problem, with what it is of marked. */
export function Excerpt({
  problem: { excerpt, firstLine, line, column, endLine, endColumn },
}: {
  readonly problem: ProblemView
}) {
  return (
    <pre className="excerpt">
      {excerpt.map((text, at) => {
        const number = firstLine + at
        const isMarked = number >= line && number <= endLine
        const start = number === line ? column - 1 : 0
        const end = number === endLine ? Math.max(endColumn - 1, start + 1) : text.length
        return (
          <code key={number} className={isMarked ? 'marked' : ''}>
            <span className="number">{number}</span>
            {isMarked ? (
              <>
                {text.slice(0, start)}
                <mark>{text.slice(start, end) || ' '}</mark>
                {text.slice(end)}
              </>
            ) : (
              text
            )}
            {'\n'}
          </code>
        )
      })}
    </pre>
  )
}
