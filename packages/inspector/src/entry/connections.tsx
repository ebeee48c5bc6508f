import type { ConnectionView, RecordView } from 'zinc-pantry/inspect'
import { EntryLink, Link } from '../parts/link.tsx'
import { EntryGraph } from './entry-graph.tsx'

/** What an entry refers to, and what refers to it. */
export function Connections({ view }: { readonly view: RecordView }) {
  const { refersTo, usedBy, head } = view
  return (
    <>
      {head.address === undefined ? null : (
        <p>
          Its page is <code>{head.address}</code>{' '}
          <Link view="pages" values={{ address: head.address }}>
            among the pages
          </Link>
        </p>
      )}
      <EntryGraph view={view} />
      <Side title="Refers to" connections={refersTo} none="It refers to nothing." />
      <Side title="Referred to from" connections={usedBy} none="Nothing refers to it." />
    </>
  )
}

const MOST = 60

function Side({
  title,
  connections,
  none,
}: {
  readonly title: string
  readonly connections: readonly ConnectionView[]
  readonly none: string
}) {
  return (
    <section>
      <h2 className="minor">
        {title} <span className="count">{connections.length}</span>
      </h2>
      {connections.length === 0 ? (
        <p className="quiet">{none}</p>
      ) : (
        <ul className="rows">
          {connections.slice(0, MOST).map((one) => (
            <li key={`${one.name} ${one.locale} ${one.path}`}>
              <EntryLink entry={one} />
              <span className="quiet">{one.collection}</span>
              <span className="quiet end">{one.path ?? 'in its text'}</span>
            </li>
          ))}
          {connections.length > MOST ? <li className="quiet">and {connections.length - MOST} more</li> : null}
        </ul>
      )}
    </section>
  )
}
