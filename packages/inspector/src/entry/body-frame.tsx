import type { RecordView } from 'zinc-pantry/inspect'
import { SitePage, useSitePage } from '../parts/site-page.tsx'
import { useLater } from '../parts/use-later.ts'
import { useCall } from '../site/use-call.ts'
import { nameOf } from './history.tsx'

/** The body as it is drawn, in a frame that can run and load nothing; and the page of the site, where that is served. */
export function BodyFrame({ view: { head }, text }: { readonly view: RecordView; readonly text: string | undefined }) {
  const typed = useLater(text, TYPING_MS)
  const { answer } = useCall(
    'body',
    { ...nameOf(head), ...(typed === undefined ? {} : { text: typed }) },
    { keepsLast: true },
  )
  const hasPage = useSitePage(head.address) !== undefined
  return (
    <>
      <SitePage address={head.address} title="Its page in the site" />
      {answer?.format === 'none' && !hasPage ? <p className="quiet">It has no body.</p> : null}
      {answer?.format === 'mdx' && !hasPage ? (
        <p className="quiet">Only the site itself can draw MDX: start it, and its page is shown here.</p>
      ) : null}
      {answer?.html ? (
        <iframe className="preview-frame" sandbox="" title="Its body" srcDoc={`${STYLE}${answer.html}`} />
      ) : null}
    </>
  )
}

/** Typing comes to rest before it is drawn. */
const TYPING_MS = 400

const STYLE = `<!doctype html><meta name="color-scheme" content="light dark"><style>
body{font:15px/1.6 system-ui,sans-serif;margin:14px;color:light-dark(#1c2529,#e3e8ea);background:light-dark(#fff,#1b2125)}
img{max-width:100%;height:auto}pre{overflow-x:auto;padding:8px;background:light-dark(#f3f5f6,#14181b)}table{border-collapse:collapse}
td,th{border:1px solid light-dark(#d5dce0,#333e45);padding:3px 8px}a{color:light-dark(#12606b,#7fcdd6)}</style>`
