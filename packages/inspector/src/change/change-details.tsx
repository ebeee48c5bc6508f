import type { ChangedFile, ChangeView } from 'zinc-pantry/inspect'
import { Excerpt } from '../parts/excerpt.tsx'
import { Notice } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'

/** Longer lists are cut. */
const MOST_STEPS = 200
const MOST_FILES = 40

/** What a change does: its steps, what differs in each file, what would be wrong, what is left to a person. */
export function ChangeDetails({ change }: { readonly change: ChangeView }) {
  const { steps, files, attention, problems, unfilled, changed } = change
  return (
    <>
      {changed.length > 0 ? (
        <Notice tone="error">
          Changed by somebody else in the meantime: {changed.join(', ')}. Close this and try it again.
        </Notice>
      ) : null}
      {problems.length > 0 ? (
        <Notice tone="error">
          <strong>It would make {plural(problems.length, 'new problem')}.</strong>
          <ul>
            {problems.slice(0, 5).map((one) => (
              <li key={`${one.file} ${one.span.join()} ${one.code} ${one.message}`}>
                {one.message} <span className="quiet">{`${one.file}:${one.line}`}</span>
                <Excerpt problem={one} />
              </li>
            ))}
          </ul>
        </Notice>
      ) : null}
      {unfilled.length > 0 ? <Notice>Still to be filled in: {plural(unfilled.length, 'value')}.</Notice> : null}
      {attention.length > 0 ? (
        <Notice tone="warning">
          <strong>To be looked at by hand:</strong>
          <ul>
            {attention.map(({ file, line, words }) => (
              <li key={`${file} ${line} ${words}`}>
                {words} <span className="quiet">{`${file}:${line}`}</span>
              </li>
            ))}
          </ul>
        </Notice>
      ) : null}
      <details className="steps">
        <summary>{plural(steps.length, 'step')}</summary>
        <ol>
          {steps.slice(0, MOST_STEPS).map(({ file, line, words }) => (
            <li key={`${file} ${line} ${words}`}>
              <span className="quiet">
                {file}
                {line === undefined ? '' : `:${line}`}
              </span>{' '}
              {words}
            </li>
          ))}
          {steps.length > MOST_STEPS ? <li>and {steps.length - MOST_STEPS} more</li> : null}
        </ol>
      </details>
      {files.slice(0, MOST_FILES).map((file) => (
        <FileDiff key={file.file} file={file} />
      ))}
      {files.length > MOST_FILES ? (
        <p className="quiet">and {plural(files.length - MOST_FILES, 'other file')}</p>
      ) : null}
    </>
  )
}

/** The lines of a file that differ. */
function FileDiff({ file: { file, kind, from, hunks } }: { readonly file: ChangedFile }) {
  return (
    <figure className="diff">
      <figcaption>
        <span className={`mark ${kind}`}>{kind}</span> {from === undefined ? file : `${from} → ${file}`}
      </figcaption>
      {hunks === undefined ? (
        <p className="quiet">It is no text, or differs everywhere.</p>
      ) : (
        hunks.map(({ oldStart, newStart, lines }) => (
          <pre key={`${oldStart} ${newStart}`}>
            {numberLines(lines, newStart).map(({ number, text }, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name, and stay where they are.
              <code key={at} className={text.startsWith('+') ? 'added' : text.startsWith('-') ? 'removed' : ''}>
                <span className="number">{number}</span>
                {text}
                {'\n'}
              </code>
            ))}
          </pre>
        ))
      )}
    </figure>
  )
}

/** Lines with their numbers in the file as it will be; those that go have none. */
function numberLines(
  lines: readonly string[],
  start: number,
): readonly { readonly number: string; readonly text: string }[] {
  let next = start
  return lines.map((text) => ({ number: text.startsWith('-') || text.startsWith('\\') ? '' : String(next++), text }))
}
