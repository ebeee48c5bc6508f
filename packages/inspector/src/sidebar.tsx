import { Boxes, FileStack, LayoutDashboard, SearchCode, TriangleAlert } from 'lucide-react'
import type { CollectionCount } from 'zinc-pantry/inspect'
import { Link } from './parts/link.tsx'
import { useAddress, type ViewName } from './site/address.ts'
import { useNews } from './site/news.ts'
import { useCall } from './site/use-call.ts'

const PLACES: readonly (readonly [ViewName, string, typeof Boxes])[] = [
  ['overview', 'Overview', LayoutDashboard],
  ['problems', 'Problems', TriangleAlert],
  ['model', 'Model', Boxes],
  ['pages', 'Pages', FileStack],
  ['question', 'Question', SearchCode],
]

/** The ways to all views, and to every collection. */
export function Sidebar() {
  const { view, values } = useAddress()
  const { status } = useNews()
  const { answer } = useCall('overview', {})
  const name = values.get('name')?.split('/')[0]
  const hasProblems = status !== undefined && status.errors + status.warnings > 0
  return (
    <nav className="sidebar" aria-label="Site">
      <div className="site-name">
        <strong>{status?.name ?? 'Pantry'}</strong>
        {status?.isReadOnly ? <span className="tag">read only</span> : null}
      </div>
      <ul>
        {PLACES.map(([place, label, Icon]) => (
          <li key={place}>
            <Link view={place} isCurrent={view === place}>
              <Icon size={15} aria-hidden />
              <span>{label}</span>
              {place === 'problems' && hasProblems ? (
                <span className={status.errors > 0 ? 'count error' : 'count warning'}>
                  {status.errors + status.warnings}
                </span>
              ) : null}
            </Link>
          </li>
        ))}
      </ul>
      {groupBySection(answer?.collections ?? []).map(([section, own]) => (
        <section key={section}>
          <h2>{section === '' ? 'Collections' : section}</h2>
          <ul>
            {own.map((one) => (
              <li key={one.name}>
                <Link
                  view="collection"
                  values={{ name: one.name }}
                  isCurrent={(view === 'collection' || view === 'entry' || view === 'new') && name === one.name}
                >
                  <span>{one.name}</span>
                  {one.errors > 0 ? <span className="dot error" title={`${one.errors} errors`} /> : null}
                  <span className="count">{one.count.toLocaleString('en-GB')}</span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </nav>
  )
}

/** Collections by their headings, those without one first. */
export function groupBySection(
  collections: readonly CollectionCount[],
): readonly (readonly [string, readonly CollectionCount[]])[] {
  const sections = [...new Set(['', ...collections.map(({ section = '' }) => section)])]
  return sections.flatMap((section) => {
    const own = collections.filter((one) => (one.section ?? '') === section)
    return own.length > 0 ? [[section, own] as const] : []
  })
}
