import { useState } from 'react'
import type { PageKind, PageView } from 'zinc-pantry/inspect'
import { EntryLink, Link } from '../parts/link.tsx'
import { Notice, Refused, Waiting } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { changeAddress, useAddress } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'

const KINDS: Readonly<Record<PageKind, string>> = {
  all: 'all',
  alone: 'nothing leads to them',
  double: 'two have one address',
  broken: 'with links that lead nowhere',
  moved: 'with former addresses',
  hidden: 'not to be seen',
}
/** Fewer are shown opened. */
const FEW = 200

/** All pages as a tree of their addresses, with what leads to each and where each leads. */
export default function PagesPage() {
  const { values } = useAddress()
  const kind = (values.get('kind') ?? 'all') as PageKind
  const text = values.get('text') ?? ''
  const address = values.get('address')
  const { answer, refused } = useCall(
    'pages',
    { kind, text, ...(address === null ? {} : { address }) },
    { keepsLast: true },
  )
  if (refused) return <Refused refused={refused} />
  if (!answer) return <Waiting />
  const { pages, total, counts, chosen } = answer
  return (
    <>
      <div className="head">
        <h1>
          Pages <span className="quiet">{plural(total, 'page')}</span>
        </h1>
      </div>
      <div className="filters">
        <label className="field-line">
          <span>Those</span>
          <select value={kind} onChange={(event) => changeAddress({ kind: event.target.value })}>
            {(Object.keys(KINDS) as PageKind[]).map((one) => (
              <option key={one} value={one}>
                {KINDS[one]} ({counts[one].toLocaleString('en-GB')})
              </option>
            ))}
          </select>
        </label>
        <label className="field-line">
          <span>With</span>
          <input type="search" value={text} onChange={(event) => changeAddress({ text: event.target.value })} />
        </label>
      </div>
      {counts.all === 0 ? <Notice>No collection gives its entries an address.</Notice> : null}
      <div className="entry-columns">
        <div>
          <ul className="tree" aria-label="Addresses">
            <Branch branch={buildTree(pages)} isOpen={pages.length < FEW} selected={chosen?.address} />
          </ul>
          {total > pages.length ? (
            <p className="quiet">and {plural(total - pages.length, 'other')}: look for a part of their address</p>
          ) : null}
        </div>
        <aside aria-label="The page">
          {chosen ? <Page page={chosen} /> : <p className="quiet">Choose a page to see what leads to it.</p>}
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
  readonly selected: string | undefined
}) {
  return (
    <>
      {[...branch.below].map(([step, one]) => (
        <li key={step}>
          {one.pages.map((page) => (
            <PageLine
              key={`${page.name} ${page.locale}`}
              page={page}
              step={step}
              isSelected={page.address === selected}
            />
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
  readonly selected: string | undefined
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

function Page({ page }: { readonly page: PageView }) {
  return (
    <section className="page-details">
      <h2>{page.label}</h2>
      <p>
        <code>{page.address}</code> is the page of <EntryLink entry={page}>{page.name}</EntryLink>
      </p>
      {page.hidden ? <Notice>It is not to be seen: {page.hidden}.</Notice> : null}
      {page.former.length > 0 ? (
        <>
          <h2 className="minor">Readers are led here from</h2>
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
      <h2 className="minor">
        What leads to it <span className="count">{page.reachedFrom.length}</span>
      </h2>
      {page.reachedFrom.length === 0 ? <p className="quiet">Nothing: only who knows the address finds it.</p> : null}
      <ul className="rows" hidden={page.reachedFrom.length === 0}>
        {page.reachedFrom.map((name) => (
          <li key={name}>
            <Link view="entry" values={{ name }}>
              {name}
            </Link>
          </li>
        ))}
      </ul>
      <h2 className="minor">
        Where it leads <span className="count">{page.leadsTo.length}</span>
      </h2>
      {page.leadsTo.length === 0 ? <p className="quiet">Nowhere.</p> : null}
      <ul className="rows" hidden={page.leadsTo.length === 0}>
        {[...new Set(page.leadsTo)].map((address) => (
          <li key={address}>
            <Link view="pages" values={{ address }}>
              {address}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  )
}
