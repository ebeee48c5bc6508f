import type { ReactNode } from 'react'
import type { CallRefusal } from 'zinc-pantry/inspect'

/** Says something that matters, or why there is nothing. */
export const Notice = ({ children, tone = 'plain' }: { readonly children: ReactNode; readonly tone?: string }) => (
  <div className={`notice ${tone}`} role={tone === 'error' ? 'alert' : 'status'}>
    {children}
  </div>
)

/** Says why something was refused. */
export const Refused = ({ refused: { refused, help } }: { readonly refused: CallRefusal }) => (
  <Notice tone="error">
    <strong>{refused}</strong>
    {help === undefined ? null : <div>{help}</div>}
  </Notice>
)

/** Says that something is on its way, once that takes long enough to be noticed. */
export const Waiting = () => (
  <div className="waiting" role="status">
    <span>Reading the site…</span>
  </div>
)
