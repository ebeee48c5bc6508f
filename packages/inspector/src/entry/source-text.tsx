import type { RecordProblem } from 'zinc-pantry/inspect'

/** The text of a file with its problems at their lines. */
export function SourceText({
  text,
  firstLine,
  problems,
}: {
  readonly text: string
  readonly firstLine: number
  readonly problems: readonly RecordProblem[]
}) {
  const byLine = Map.groupBy(problems, ({ line }) => line)
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keyboard.
    <pre className="excerpt source" tabIndex={0}>
      {text.split('\n').map((line, at) => {
        const own = byLine.get(at + firstLine) ?? []
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name.
          <code key={at} className={own.length > 0 ? 'marked' : 'plain-line'}>
            <span className="number">{at + firstLine}</span>
            {line}
            {'\n'}
            {own.map(({ message, severity }) => (
              <span key={message} className={`line-problem ${severity}`}>
                {message}
                {'\n'}
              </span>
            ))}
          </code>
        )
      })}
    </pre>
  )
}
