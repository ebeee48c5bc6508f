import { useState } from 'react'
import type { CheckedFile, CheckRecord } from 'zinc-pantry/inspect'
import { useCall } from '../site/use-call.ts'
import { Link } from './link.tsx'
import { Refused } from './notice.tsx'
import { plural } from './words.ts'

/** More files of one check are not told of each. */
const MOST_FILES = 12

/** What was checked since the page was opened, the newest first, and why. */
export const CheckLog = ({ log }: { readonly log: readonly CheckRecord[] }) => (
  <section>
    <h2>Since this was opened</h2>
    <ol className="rows checks">
      {log.toReversed().map((record, position) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two checks may be of one moment.
        <li key={`${record.at} ${position}`}>
          <Check record={record} isFirst={position === log.length - 1} />
        </li>
      ))}
    </ol>
  </section>
)

function Check({ record, isFirst }: { readonly record: CheckRecord; readonly isFirst: boolean }) {
  const [isOpen, setOpen] = useState(false)
  const { at, files, again, errors, warnings } = record
  const summary = (
    <>
      <span className="quiet nowrap">{new Date(at).toLocaleTimeString('en-GB')}</span>{' '}
      <span>{describeCheck(record, isFirst)}</span>
      <span className={`end ${errors > 0 ? 'error' : 'quiet'}`}>
        {errors + warnings === 0 ? 'no problems' : plural(errors + warnings, 'problem')}
      </span>
    </>
  )
  if (files.length === 0) return <div className="check">{summary}</div>
  return (
    <details className="check" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>{summary}</summary>
      {again > files.length ? <p className="quiet">{plural(again, 'file')} were checked again with it.</p> : null}
      {isOpen ? files.slice(0, MOST_FILES).map((one) => <Account key={one.file} {...one} />) : null}
      {files.length > MOST_FILES ? <p className="quiet">And {files.length - MOST_FILES} more.</p> : null}
    </details>
  )
}

/** Why a file was checked, and what is looked at with it. */
function Account({ file, words }: CheckedFile) {
  const { answer, refused } = useCall('account', { file })
  if (refused) return <Refused refused={refused} />
  if (!answer) return null
  return (
    <div className="account">
      <strong>{file}</strong>
      <p className="quiet">{words}.</p>
      {answer.dependents.length > 0 ? (
        <ul>
          {answer.dependents.map(({ entry, ways }) => (
            <li key={entry}>
              <Link view="entry" values={{ name: entry }}>
                {entry}
              </Link>{' '}
              <span className="quiet">{ways.join(', ')}</span>
            </li>
          ))}
        </ul>
      ) : answer.isContent ? (
        <p className="quiet">Nothing else depends on it.</p>
      ) : null}
    </div>
  )
}

/** What a check was about. */
function describeCheck({ files, again }: CheckRecord, isFirst: boolean): string {
  if (files.length === 0)
    return isFirst ? 'The whole site was read' : `All files were looked at, ${again} checked again`
  const names = files.map(({ file }) => file)
  return names.length > 2 ? `${names[0]} and ${plural(names.length - 1, 'other')}` : names.join(', ')
}
