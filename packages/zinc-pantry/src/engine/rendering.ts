import { createBodyReader } from '../body/body-reader.ts'
import type { OutputOptions } from '../body/parsed-body.ts'
import { BODIES_A_PART, type RenderedBody } from '../emit/bodies.ts'
import type { Rendering } from '../emit/stored-entry.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { StoredBody, StoredCollection } from '../query/open-site.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

/** Renders bodies and fields, links to entries and their files becoming the addresses of pages. */
export interface SiteRendering extends Rendering {
  renderBody(entry: Entry): Promise<RenderedBody | undefined>
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
      if (!body) return undefined
      const rewrite = (href: string): string => addressOf(href, entry, resolve)
      const output = await body.parsed.output({ ...plain, properties, rewrite })
      return body.format === 'mdx' ? { format: 'mdx', code: output } : { format: 'markdown', html: output }
    },
  }
}

/** Renders the bodies of all entries. */
export async function renderBodies(
  collections: readonly LinkedCollection[],
  { renderBody }: SiteRendering,
): Promise<Map<Entry, RenderedBody>> {
  const rendered = new Map<Entry, RenderedBody>()
  for (const { collection, entries } of collections) {
    if (!collection.body) continue
    for (const entry of entries) {
      const body = await renderBody(entry)
      if (body) rendered.set(entry, body)
    }
  }
  return rendered
}

/** Bodies of entries in memory, each rendered when its part is loaded. */
export function openBodies(
  entries: readonly Entry[],
  { renderBody }: SiteRendering,
): NonNullable<StoredCollection['bodies']> {
  const load = async (entry: Entry): Promise<StoredBody | null> => {
    const body = await renderBody(entry)
    return body?.format === 'markdown' ? body : null
  }
  const size = BODIES_A_PART
  const parts = Array.from({ length: Math.ceil(entries.length / size) }, (_, part) => async () => ({
    default: await Promise.all(entries.slice(part * size, (part + 1) * size).map(load)),
  }))
  return { size, parts }
}

function addressOf(href: string, entry: Entry, resolve: LinkResolver): string {
  const target = resolve(href, entry as LinkedEntry)
  if (target.kind !== 'entry' || target.address === undefined || href.startsWith('#')) return href
  return target.fragment === '' ? target.address : `${target.address}#${target.fragment}`
}
