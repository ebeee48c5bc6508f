import { createBodyReader } from '../body/body-reader.ts'
import type { OutputOptions } from '../body/parsed-body.ts'
import type { Rendering } from '../emit/stored-entry.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { StoredBody } from '../query/open-site.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

/** Renders bodies and fields, links to entries and their files becoming the addresses of pages. */
export interface SiteRendering extends Rendering {
  renderBody(entry: Entry): Promise<StoredBody | null>
}

export function createRendering(resolve: LinkResolver): SiteRendering {
  const readField = createBodyReader({ blocks: [], markdownPlugins: [] })
  const plain: Pick<OutputOptions, 'properties' | 'highlight'> = { properties: [], highlight: () => undefined }
  return {
    renderField(text) {
      const parsed = readField({ text, file: '', startOffset: 0 }, 'markdown')
      return parsed.output({ ...plain, rewrite: (address) => address }) as string
    },
    async renderBody(entry) {
      const { body, properties } = entry
      if (!body) return null
      const rewrite = (href: string): string => addressOf(href, entry, resolve)
      const html = await body.parsed.output({ ...plain, properties, rewrite })
      return { format: body.format, text: body.text, html }
    },
  }
}

/** Renders the bodies of all entries. */
export async function renderBodies(
  collections: readonly LinkedCollection[],
  { renderBody }: SiteRendering,
): Promise<Map<Entry, StoredBody | null>> {
  const rendered = new Map<Entry, StoredBody | null>()
  for (const { collection, entries } of collections)
    if (collection.body) for (const entry of entries) rendered.set(entry, await renderBody(entry))
  return rendered
}

function addressOf(href: string, entry: Entry, resolve: LinkResolver): string {
  const target = resolve(href, entry as LinkedEntry)
  if (target.kind !== 'entry' || target.address === undefined || href.startsWith('#')) return href
  return target.fragment === '' ? target.address : `${target.address}#${target.fragment}`
}
