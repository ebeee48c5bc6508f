import { useState } from 'react'
import type { PageView } from 'zinc-pantry/inspect'
import { EntryLink, Link } from '../parts/link.tsx'
import { Notice, Refused, Waiting } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'

const KINDS = {
  '': 'all',
  alone: 'nothing leads to them',
  double: 'two have one address',
  broken: 'with links that lead nowhere',
  moved: 'with former addresses',
  hidden: 'not to be seen',
} as const
type PageKind = keyof typeof KINDS

/** All pages as a tree of their addresses, with what leads to each and where each leads. */
export default function PagesPage() {
  const { values } = useAddress()
  const { answer, refused } = useCall('pages', {})
  if (refused) return <Refused refused={refused} />
  if (!answer) return <Waiting />
  const kind = (values.get('kind') ?? '') as PageKind
  const text = values.get('text') ?? ''
  const counts = Map.groupBy(answer, ({ address }) => address)
  const isOf: Readonly<Record<PageKind, (page: PageView) => boolean>> = {
    '': () => true,
    alone: ({ reachedFrom }) => reachedFrom.length === 0,
    double: ({ address }) => (counts.get(address)?.length ?? 0) > 1,
    broken: ({ broken }) => broken.length > 0,
    moved: ({ former }) => former.length > 0,
    hidden: ({ hidden }) => hidden !== undefined,
  }
  const shown = answer.filter(
    (page) => isOf[kind](page) && `${page.address} ${page.label}`.toLowerCase().includes(text.toLowerCase()),
  )
  const selected = answer.find(({ address }) => address === values.get('address'))
  return (
    <>
      <div className="head">
        <h1>
          Pages <span className="quiet">{plural(shown.length, 'page')}</span>
        </h1>
      </div>
      <div className="filters">
        <label className="field-line">
          <span>Those</span>
          <select value={kind} onChange={(event) => changeAddress({ kind: event.target.value })}>
            {(Object.keys(KINDS) as PageKind[]).map((one) => (
              <option key={one} value={one}>
                {KINDS[one]} ({answer.filter(isOf[one]).length})
              </option>
            ))}
          </select>
        </label>
        <label className="field-line">
          <span>With</span>
          <input type="search" value={text} onChange={(event) => changeAddress({ text: event.target.value })} />
        </label>
      </div>
      {answer.length === 0 ? <Notice>No collection gives its entries an address.</Notice> : null}
      <div className="entry-columns">
        <ul className="tree" aria-label="Addresses">
          <Branch branch={buildTree(shown)} isOpen={shown.length < 200 || kind !== ''} selected={selected} />
        </ul>
        <aside aria-label="The page">
          {selected ? (
            <Page page={selected} pages={answer} />
          ) : (
            <p className="quiet">Choose a page to see what leads to it.</p>
          )}
        </aside>
      </div>
    </>
  )
}

/** A step of addresses: the pages that end there, and the steps below. */
interface PathBranch {
  readonly pages: PageView[]
  readonly below: Map<string, PathBranch>
}

function buildTree(pages: readonly PageView[]): PathBranch {
  const root: PathBranch = { pages: [], below: new Map() }
  for (const page of pages) {
    let at = root
    for (const step of page.address.split('/').filter((one) => one !== '')) {
      const next = at.below.get(step) ?? { pages: [], below: new Map() }
      at.below.set(step, next)
      at = next
    }
    at.pages.push(page)
  }
  return root
}

const countOf = ({ pages, below }: PathBranch): number =>
  pages.length + [...below.values()].reduce((sum, one) => sum + countOf(one), 0)

function Branch({
  branch,
  isOpen,
  selected,
}: {
  readonly branch: PathBranch
  readonly isOpen: boolean
  readonly selected: PageView | undefined
}) {
  return (
    <>
      {[...branch.below].map(([step, one]) => (
        <li key={step}>
          {one.pages.map((page) => (
            <PageLine key={`${page.name} ${page.locale}`} page={page} step={step} isSelected={page === selected} />
          ))}
          {one.below.size > 0 ? <Fold step={step} branch={one} isOpen={isOpen} selected={selected} /> : null}
        </li>
      ))}
    </>
  )
}

function Fold({
  step,
  branch,
  isOpen: isFirstOpen,
  selected,
}: {
  readonly step: string
  readonly branch: PathBranch
  readonly isOpen: boolean
  readonly selected: PageView | undefined
}) {
  const [isOpen, setOpen] = useState(isFirstOpen)
  return (
    <details open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>
        {step}/ <span className="count">{countOf(branch)}</span>
      </summary>
      {isOpen ? (
        <ul>
          <Branch branch={{ ...branch, pages: [] }} isOpen={isFirstOpen} selected={selected} />
        </ul>
      ) : null}
    </details>
  )
}

const PageLine = ({
  page,
  step,
  isSelected,
}: {
  readonly page: PageView
  readonly step: string
  readonly isSelected: boolean
}) => (
  <button
    type="button"
    className="page-line"
    aria-pressed={isSelected}
    onClick={() => changeAddress({ address: page.address })}
  >
    <code>{step}</code>
    <span>{page.label}</span>
    {page.reachedFrom.length === 0 ? <span className="tag">alone</span> : null}
    {page.broken.length > 0 ? <span className="mark error">{page.broken.length} broken</span> : null}
    {page.hidden ? <span className="tag">not seen</span> : null}
  </button>
)

function Page({ page, pages }: { readonly page: PageView; readonly pages: readonly PageView[] }) {
  const byAddress = new Map(pages.map((one) => [one.address, one]))
  const doubles = pages.filter((one) => one !== page && one.address === page.address)
  return (
    <section className="page-details">
      <h2>{page.label}</h2>
      <p>
        <code>{page.address}</code> is the page of <EntryLink entry={page}>{page.name}</EntryLink>
      </p>
      {page.hidden ? <Notice>It is not to be seen: {page.hidden}.</Notice> : null}
      {doubles.length > 0 ? (
        <Notice tone="error">
          The same address has{' '}
          {doubles.map((one) => (
            <EntryLink key={one.name} entry={one} />
          ))}
        </Notice>
      ) : null}
      {page.former.length > 0 ? (
        <>
          <h3>Readers are led here from</h3>
          <ul>
            {page.former.map((one) => (
              <li key={one}>
                <code>{one}</code>
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {page.broken.length > 0 ? <Notice tone="error">Links that lead nowhere: {page.broken.join(', ')}</Notice> : null}
      <h3>
        What leads to it <span className="count">{page.reachedFrom.length}</span>
      </h3>
      {page.reachedFrom.length === 0 ? <p className="quiet">Nothing: only who knows the address finds it.</p> : null}
      <ul className="rows">
        {page.reachedFrom.map((name) => (
          <li key={name}>
            <Link view="entry" values={{ name }}>
              {name}
            </Link>
          </li>
        ))}
      </ul>
      <h3>
        Where it leads <span className="count">{page.leadsTo.length}</span>
      </h3>
      <ul className="rows">
        {[...new Set(page.leadsTo)].map((address) => (
          <li key={address}>
            <Link view="pages" values={{ address }}>
              {address}
            </Link>
            <span className="quiet">{byAddress.get(address)?.label}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}
