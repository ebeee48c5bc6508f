import type { BlockSample, FieldModel } from 'zinc-pantry/inspect'
import { Link } from '../parts/link.tsx'
import { Refused } from '../parts/notice.tsx'
import { SitePage } from '../parts/site-page.tsx'
import { valueWords } from '../parts/words.ts'
import { useCall } from '../site/use-call.ts'
import { PartActions } from './part-actions.tsx'

const MOST = 40

/** Where a part of the model stands, what shares its declaration, and what uses it. */
export function PartDetails({ target, field }: { readonly target: string; readonly field?: FieldModel }) {
  const { answer, refused } = useCall('part', { target })
  if (refused) return <Refused refused={refused} />
  if (!answer) return <p className="quiet">It is looked for…</p>
  const { declared, named, sharedWith, usedBy, samples = [] } = answer
  return (
    <div className="part">
      <PartActions target={target} {...(field ? { field } : {})} />
      <Places title="Declared" places={declared} />
      <Places title="Named by settings and code" places={named} />
      {sharedWith.length > 0 ? (
        <p>
          <strong>Shares its declaration with</strong> {sharedWith.join(', ')}: a change of one is a change of all.
        </p>
      ) : null}
      {samples.length > 0 ? <Samples samples={samples} /> : null}
      {usedBy.length > 0 ? (
        <div>
          <strong>Used by</strong>
          <ul className="word-list">
            {usedBy.slice(0, MOST).map((name) => (
              <li key={name}>
                <Link view="entry" values={{ name }}>
                  {name}
                </Link>
              </li>
            ))}
            {usedBy.length > MOST ? <li className="quiet">and {usedBy.length - MOST} more</li> : null}
          </ul>
        </div>
      ) : null}
    </div>
  )
}

const Places = ({
  title,
  places,
}: {
  readonly title: string
  readonly places: readonly { readonly file: string; readonly line: number; readonly column: number }[]
}) =>
  places.length === 0 ? null : (
    <p>
      <strong>{title}</strong>{' '}
      {places.map(({ file, line, column }) => (
        <code key={`${line} ${column}`}>{`${file}:${line}:${column} `}</code>
      ))}
    </p>
  )

/** Some uses of a block, each with its values; the first page with one, where the site is there to draw it. */
const Samples = ({ samples }: { readonly samples: readonly BlockSample[] }) => (
  <div className="samples">
    <SitePage address={samples.find(({ address }) => address !== undefined)?.address} title="A page that uses it" />
    {samples.map(({ entry, value }) => (
      <figure key={entry}>
        <figcaption>
          In{' '}
          <Link view="entry" values={{ name: entry }}>
            {entry}
          </Link>
        </figcaption>
        <dl>
          {Object.entries(value).map(([name, inner]) => (
            <div key={name}>
              <dt>{name}</dt>
              <dd>{valueWords(inner) || <span className="quiet">–</span>}</dd>
            </div>
          ))}
        </dl>
      </figure>
    ))}
  </div>
)
