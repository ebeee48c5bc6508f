import { Menu, X } from 'lucide-react'
import { lazy, Suspense, useEffect, useState } from 'react'
import { Button } from 'react-aria-components/Button'
import { useProposed } from './change/propose.ts'
import { Notice, Waiting } from './parts/notice.tsx'
import { Sidebar } from './sidebar.tsx'
import { useAddress, type ViewName } from './site/address.ts'
import { useNews } from './site/news.ts'
import { OverviewPage } from './views/overview-page.tsx'

const ProposedChange = lazy(() => import('./change/proposed-change.tsx'))

const VIEWS: Readonly<Record<ViewName, React.ComponentType>> = {
  overview: OverviewPage,
  collection: lazy(() => import('./views/collection-page.tsx')),
  entry: lazy(() => import('./views/entry-page.tsx')),
  new: lazy(() => import('./views/new-page.tsx')),
  model: lazy(() => import('./views/model-page.tsx')),
  pages: lazy(() => import('./views/pages-page.tsx')),
  problems: lazy(() => import('./views/problems-page.tsx')),
  question: lazy(() => import('./views/question-page.tsx')),
}

/** The page: what there is beside what is shown of it. */
export function App() {
  const address = useAddress()
  const { status, isConnected } = useNews()
  const change = useProposed()
  const [isOpen, setOpen] = useState(false)
  const View = VIEWS[address.view]
  // biome-ignore lint/correctness/useExhaustiveDependencies: the menu closes wherever somebody goes.
  useEffect(() => setOpen(false), [address])
  return (
    <div className={isOpen ? 'app with-menu' : 'app'}>
      <a className="skip" href="#content">
        To the content
      </a>
      <header className="bar">
        <Button aria-label={isOpen ? 'Close the menu' : 'Open the menu'} onPress={() => setOpen(!isOpen)}>
          {isOpen ? <X size={18} /> : <Menu size={18} />}
        </Button>
        <strong>{status?.name ?? 'Pantry'}</strong>
      </header>
      <Sidebar />
      <main id="content" tabIndex={-1}>
        {status && !isConnected ? (
          <Notice tone="error">
            <strong>The inspector does not answer.</strong> It is tried again; what you have typed stays here.
          </Notice>
        ) : null}
        {status?.isBroken ? (
          <Notice tone="error">
            <strong>The configuration has errors.</strong> What is shown is the site as it was before; see the problems.
          </Notice>
        ) : null}
        <Suspense fallback={<Waiting />}>
          <View />
        </Suspense>
      </main>
      <Suspense>{change ? <ProposedChange change={change} /> : null}</Suspense>
    </div>
  )
}
