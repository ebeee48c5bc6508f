import { useNews } from '../site/news.ts'

/** A page of the site itself, where that is served beside this one; it is loaded again with every change. */
export function SitePage({ address, title }: { readonly address: string | undefined; readonly title: string }) {
  const { status } = useNews()
  if (status?.address === undefined || address === undefined) return null
  return (
    <iframe
      key={status.revision}
      className="preview-frame"
      src={new URL(address, status.address).href}
      title={title}
      sandbox="allow-scripts allow-same-origin"
    />
  )
}
