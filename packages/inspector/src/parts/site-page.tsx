import { useNews } from '../site/news.ts'

/** Where a page of the site itself is served; undefined where it is not. */
export function useSitePage(address: string | undefined): string | undefined {
  const { status } = useNews()
  return status?.address === undefined || address === undefined ? undefined : new URL(address, status.address).href
}

/** A page of the site itself, where that is served beside this one; it is loaded again with every change. */
export function SitePage({ address, title }: { readonly address: string | undefined; readonly title: string }) {
  const { status } = useNews()
  const href = useSitePage(address)
  if (href === undefined) return null
  return (
    <iframe
      key={status?.revision}
      className="preview-frame"
      src={href}
      title={title}
      sandbox="allow-scripts allow-same-origin"
    />
  )
}
