import { useState } from 'react'
import { Button } from 'react-aria-components/Button'
import type { HeadView } from 'zinc-pantry/inspect'
import { Refused } from '../parts/notice.tsx'
import { useCall } from '../site/use-call.ts'

/** The changes of an entry's file, by version control. */
export function History({ head }: { readonly head: HeadView }) {
  const name = nameOf(head)
  const { answer, refused } = useCall('history', name)
  const [open, setOpen] = useState<string>()
  if (refused) return <Refused refused={refused} />
  if (!answer) return <p className="quiet">It is looked for…</p>
  if (!answer.revisions) return <p className="quiet">No version control has its file.</p>
  if (answer.revisions.length === 0) return <p className="quiet">Version control does not know its file yet.</p>
  return (
    <ol className="rows history">
      {answer.revisions.map(({ id, at, author, words }) => (
        <li key={id}>
          <Button className="plain" aria-expanded={open === id} onPress={() => setOpen(open === id ? undefined : id)}>
            {words}
          </Button>
          <span className="quiet">{author}</span>
          <time className="quiet end nowrap" dateTime={at}>
            {at.slice(0, 10)}
          </time>
          {open === id ? <Patch head={head} revision={id} /> : null}
        </li>
      ))}
    </ol>
  )
}

export const nameOf = ({ collection, id, locale }: HeadView) => ({
  ...{ collection, id },
  ...(locale === undefined ? {} : { locale }),
})

function Patch({ head, revision }: { readonly head: HeadView; readonly revision: string }) {
  const { answer } = useCall('patch', { ...nameOf(head), revision })
  const lines = answer?.patch?.split('\n').filter((line) => !/^(?:diff|index|---|\+\+\+) /.test(line)) ?? []
  return (
    <div className="diff">
      <pre>
        {lines.map((line, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name, and stay where they are.
          <code key={at} className={line.startsWith('+') ? 'added' : line.startsWith('-') ? 'removed' : ''}>
            {line}
            {'\n'}
          </code>
        ))}
      </pre>
    </div>
  )
}
