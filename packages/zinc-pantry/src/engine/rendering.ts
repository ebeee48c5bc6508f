import { BodyError } from '../body/body-error.ts'
import type { Highlighter } from '../body/highlighter.ts'
import { createFieldRenderer } from '../body/markdown/markdown-body.ts'
import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { BODIES_A_PART, type RenderedBody } from '../emit/bodies.ts'
import type { Rendering } from '../emit/stored-entry.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { LinkResolver } from '../link/link-resolver.ts'
import type { CompiledBody, StoredBody, StoredCollection } from '../query/open-site.ts'
import type { BodyModel } from '../schema/body-settings.ts'
import type { Entry, LinkedEntry } from '../validate/entry.ts'

/** Renders bodies and fields, links to entries and their files becoming the addresses of pages. */
export interface SiteRendering extends Rendering {
  renderBody(entry: Entry): Promise<RenderedBody | undefined>
}

/** Makes the rendering of a site. */
export function createRendering({ resolveLink, highlighter }: RenderContext): SiteRendering {
  return {
    fieldRenderer: ({ body, trusted }) => {
      let render: ReturnType<typeof createFieldRenderer> | undefined
      return (text, entry) => {
        render ??= createFieldRenderer(trusted ? body : { ...(body ?? PLAIN), rawHtml: 'drop' }, { highlighter })
        return render(text, (href) => addressOf(href, entry, resolveLink))
      }
    },
    async renderBody(entry) {
      const { body, properties } = entry
      if (!body) return undefined
      const rewrite = (href: string): string => addressOf(href, entry, resolveLink)
      const output = await body.parsed.output({ highlighter, properties, rewrite })
      if (body.format === 'markdown') return { format: 'markdown', html: output }
      const components = Object.fromEntries(
        body.parsed.uses().flatMap(({ name, block }) => (block ? [[name, block]] : [])),
      )
      return { format: 'mdx', code: output, file: body.file, components }
    },
  }
}

const AsyncFunction = (async () => undefined).constructor as new (code: string) => unknown

/** Raw HTML in fields of collections without bodies. */
const PLAIN: BodyModel = {
  extensions: true,
  rawHtml: 'keep',
  trusted: true,
  markdownPlugins: [],
  remarkPlugins: [],
  rehypePlugins: [],
}

/** What rendering needs of a check. */
export interface RenderContext {
  readonly resolveLink: LinkResolver
  readonly highlighter: Highlighter | undefined
}

/** Renders the bodies of all entries. */
export async function renderBodies(
  collections: readonly LinkedCollection[],
  { renderBody }: SiteRendering,
): Promise<{ bodies: Map<Entry, RenderedBody>; diagnostics: Diagnostic[] }> {
  const bodies = new Map<Entry, RenderedBody>()
  const diagnostics: Diagnostic[] = []
  for (const { collection, entries } of collections) {
    if (!collection.body) continue
    for (const entry of entries) {
      try {
        const body = await renderBody(entry)
        if (body) bodies.set(entry, body)
      } catch (error) {
        if (!(error instanceof BodyError)) throw error
        diagnostics.push(error.diagnostic)
      }
    }
  }
  return { bodies, diagnostics }
}

/** Bodies of entries in memory, each rendered when its part is loaded. */
export function openBodies(
  entries: readonly Entry[],
  { renderBody }: SiteRendering,
): NonNullable<StoredCollection['bodies']> {
  const load = async (entry: Entry): Promise<StoredBody | null> => {
    const body = await renderBody(entry)
    if (body?.format !== 'mdx') return body ?? null
    // The code is that of a function, as the generated module has it.
    const compiled = new AsyncFunction(body.code) as CompiledBody
    return { format: 'mdx', html: null, compiled, components: body.components }
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
