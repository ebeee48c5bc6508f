import type { ReactNode } from 'react'
import type { HeadView } from 'zinc-pantry/inspect'
import { addressOf, followLink, type ViewName } from '../site/address.ts'

/** A link to a view of this page. */
export function Link({
  view,
  values,
  children,
  className,
  isCurrent,
}: {
  readonly view: ViewName
  readonly values?: Readonly<Record<string, string | undefined>>
  readonly children: ReactNode
  readonly className?: string
  readonly isCurrent?: boolean
}) {
  return (
    <a
      href={addressOf(view, values)}
      onClick={followLink}
      className={className}
      aria-current={isCurrent ? 'page' : undefined}
    >
      {children}
    </a>
  )
}

/** A link to an entry, by what people call it. */
export const EntryLink = ({ entry, children }: { readonly entry: HeadView; readonly children?: ReactNode }) => (
  <Link view="entry" values={{ name: entry.name, locale: entry.locale }}>
    {children ?? entry.label}
  </Link>
)
