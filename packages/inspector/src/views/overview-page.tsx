import type { CollectionCount, OverviewView } from 'zinc-pantry/inspect'
import { CheckLog } from '../parts/check-log.tsx'
import { EntryLink, Link } from '../parts/link.tsx'
import { Refused, Waiting } from '../parts/notice.tsx'
import { agoWords, plural, sizeWords } from '../parts/words.ts'
import { groupBySection } from '../sidebar.tsx'
import { useNews } from '../site/news.ts'
import { useCall } from '../site/use-call.ts'

/** The site at a glance. */
export function OverviewPage() {
  const { answer, refused } = useCall('overview', {})
  if (refused) return <Refused refused={refused} />
  if (!answer) return <Waiting />
  return (
    <>
      <h1>Overview</h1>
      <Figures overview={answer} />
      {groupBySection(answer.collections).map(([section, own]) => (
        <section key={section}>
          {section === '' ? null : <h2>{section}</h2>}
          <Collections collections={own} isTranslated={answer.locales.length > 1} />
        </section>
      ))}
      <div className="columns">
        <Recent recent={answer.recent} />
        <CheckLog log={answer.log} />
      </div>
    </>
  )
}

function Figures({ overview }: { readonly overview: OverviewView & { readonly output: Output | undefined } }) {
  const { collections, fileCount, otherFiles, locales, output } = overview
  const { status } = useNews()
  const sum = (of: (one: CollectionCount) => number): number => collections.reduce((all, one) => all + of(one), 0)
  return (
    <dl className="figures">
      <Figure name="Entries" value={sum(({ count }) => count).toLocaleString('en-GB')}>
        {plural(collections.length, 'collection')}, {plural(fileCount, 'file')}
      </Figure>
      <Figure name="Problems" value={String((status?.errors ?? 0) + (status?.warnings ?? 0))}>
        <Link view="problems">
          {plural(status?.errors ?? 0, 'error')}, {plural(status?.warnings ?? 0, 'warning')}
        </Link>
      </Figure>
      <Figure name="Not to be seen" value={String(sum(({ hidden }) => hidden))}>
        drafts, and what is not yet or no longer published
      </Figure>
      {locales.length > 1 ? (
        <Figure name="Languages" value={String(locales.length)}>
          {locales.join(', ')}
        </Figure>
      ) : null}
      <Figure name="Other files" value={String(otherFiles)}>
        pictures and what no collection reads
      </Figure>
      <Figure name="Output" value={output ? sizeWords(output.bytes) : 'none'}>
        {output ? plural(output.files, 'file') : 'nothing was built yet'}
      </Figure>
    </dl>
  )
}

interface Output {
  readonly files: number
  readonly bytes: number
}

const Figure = ({
  name,
  value,
  children,
}: {
  readonly name: string
  readonly value: string
  readonly children: React.ReactNode
}) => (
  <div>
    <dt>{name}</dt>
    <dd>
      <strong>{value}</strong>
      <span>{children}</span>
    </dd>
  </div>
)

function Collections({
  collections,
  isTranslated,
}: {
  readonly collections: readonly CollectionCount[]
  readonly isTranslated: boolean
}) {
  return (
    <div className="scrolled">
      <table className="plain">
        <thead>
          <tr>
            <th scope="col">Collection</th>
            <th scope="col" className="number">
              Entries
            </th>
            <th scope="col" className="number">
              Problems
            </th>
            <th scope="col" className="number">
              Not seen
            </th>
            {isTranslated ? <th scope="col">Missing languages</th> : null}
            <th scope="col">Changed</th>
            <th scope="col">What it is</th>
          </tr>
        </thead>
        <tbody>
          {collections.map((one) => (
            <tr key={one.name}>
              <th scope="row">
                <Link view="collection" values={{ name: one.name }}>
                  {one.name}
                </Link>
              </th>
              <td className="number">{one.count.toLocaleString('en-GB')}</td>
              <td className="number">
                {one.errors + one.warnings > 0 ? (
                  <Link
                    view="problems"
                    values={{ collection: one.name }}
                    className={one.errors > 0 ? 'error' : 'warning'}
                  >
                    {one.errors + one.warnings}
                  </Link>
                ) : (
                  <span className="quiet">–</span>
                )}
              </td>
              <td className="number">{one.hidden || <span className="quiet">–</span>}</td>
              {isTranslated ? (
                <td>
                  {one.missing
                    .filter(({ count }) => count > 0)
                    .map(({ locale, count }) => `${locale}: ${count}`)
                    .join(', ')}
                </td>
              ) : null}
              <td className="quiet nowrap">{one.changed ? agoWords(one.changed) : ''}</td>
              <td className="quiet">{one.description ?? (one.isForeign ? 'from elsewhere' : one.files.join(', '))}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

const Recent = ({ recent }: { readonly recent: OverviewView['recent'] }) => (
  <section>
    <h2>Changed last</h2>
    <ul className="rows">
      {recent.map((one) => (
        <li key={`${one.name} ${one.locale}`}>
          <EntryLink entry={one} />
          <span className="quiet">{one.collection}</span>
          <span className="quiet end">{agoWords(one.changed)}</span>
        </li>
      ))}
    </ul>
  </section>
)
