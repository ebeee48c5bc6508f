import { BodyError } from '../body/body-error.ts'
import type { Highlighter } from '../body/highlighter.ts'
import { createFieldRenderer } from '../body/markdown/markdown-body.ts'
import type { Rewrite } from '../body/parsed-body.ts'
import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { BODIES_A_PART, emitBodies, emitBody, type RenderedBody } from '../emit/bodies.ts'
import type { PartKeeper } from '../emit/part-keeper.ts'
import { createBlockStorer, type LinkAddresses, type Rendering } from '../emit/stored-entry.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { LinkResolver, LinkTarget } from '../link/link-resolver.ts'
import type { CompiledBody, StoredBody } from '../query/open-site.ts'
import type { BodyModel } from '../schema/body-settings.ts'
import type { BlockFields } from '../schema/field.ts'
import type { CollectionModel } from '../schema/model.ts'
import { hasPrivate } from '../schema/store-fields.ts'
import type { Entry, EntryBody, LinkedEntry } from '../validate/entry.ts'
import type { AssetReader } from './assets.ts'
import { RememberedBody } from './cache/remembered-body.ts'
import type { SiteMemory } from './cache/site-memory.ts'

/** Renders bodies and fields, links to entries and their files becoming the addresses of pages. */
export interface SiteRendering extends Rendering {
  /** Files that entries name: those that Markdown in fields leads to, and pictures of bodies. */
  readonly files: Set<string>
  bodyRenderer(collection: CollectionModel): (entry: Entry) => Promise<RenderedBody | undefined>
}

/** Makes the rendering of a site. */
export function createRendering(context: RenderContext): SiteRendering {
  const { highlighter, blocks, memory } = context
  const textRenderer = ({ body, trusted }: CollectionModel): ((text: string, rewrite: Rewrite) => string) => {
    let render: ReturnType<typeof createFieldRenderer> | undefined
    return (text, rewrite) => {
      render ??= createFieldRenderer(trusted ? body : { ...(body ?? PLAIN), rawHtml: 'drop' }, { highlighter })
      return render(text, rewrite)
    }
  }
  const files = memory.stages?.emitted.files ?? new Set<string>()
  const secretBlocks = new Set([...blocks].flatMap(([name, fields]) => (hasPrivate(fields, blocks) ? [name] : [])))
  const links: LinkAddresses = {
    addressOf(href, entry) {
      const target = context.resolveLink(href, entry as LinkedEntry)
      const isHidden = target.kind === 'hidden' || target.kind === 'guarded'
      return isHidden ? undefined : addressOfTarget(href, target, context)
    },
    dimensionsOf(href, entry) {
      const target = context.resolveLink(href, entry as LinkedEntry)
      if (target.kind !== 'asset') return NO_DIMENSIONS
      // Who reads of a picture of a body shows it elsewhere, too.
      files.add(target.file)
      const answer = context.asset(`/${target.file}`, '')
      const { width = null, height = null } = (answer && 'facts' in answer && answer.facts) || {}
      return { width, height }
    },
  }
  return {
    files,
    links,
    fieldRenderer(collection) {
      const render = textRenderer(collection)
      return (text, entry) =>
        render(text, (href) => {
          const target = context.resolveLink(href, entry as LinkedEntry)
          if (target.kind === 'asset') files.add(target.file)
          return addressOfTarget(href, target, context)
        })
    },
    bodyRenderer(collection) {
      const renderText = textRenderer(collection)
      return async (entry) => {
        const { body, properties: values } = entry
        if (!body) return undefined
        const { parsed } = body
        const remembered = parsed instanceof RememberedBody ? parsed : undefined
        const scope = JSON.stringify([highlighter !== undefined, memory.hasMaps, values])
        const kept = remembered && memory.outputOf(remembered)
        const isSame = ([written, address]: readonly [string, string]): boolean =>
          addressOf(written, entry, context) === address
        if (kept?.scope === scope && kept.addresses.every(isSame)) return kept.body
        await remembered?.prepare()
        const addresses = new Map<string, string>()
        const shown = new Map<string, string>()
        const named = new Set<string>()
        const rewriteInto =
          (found: (address: string, file: string) => void): Rewrite =>
          (href) => {
            const target = context.resolveLink(href, entry as LinkedEntry)
            const address = addressOfTarget(href, target, context)
            addresses.set(href, address)
            if (target.kind === 'asset') found(address, target.file)
            return address
          }
        const rewrite = rewriteInto((address, file) => shown.set(address, file))
        const rewriteNamed = rewriteInto((_address, file) => named.add(file))
        const store = createBlockStorer(blocks, (text) => renderText(text, rewriteNamed))
        const uses = parsed.uses()
        const properties = uses.map((use, at) => store(use, values[at] ?? {}, entry))
        const { text, map } = await parsed.output({ highlighter, properties, rewrite })
        const components = Object.fromEntries(uses.flatMap(({ name, block }) => (block ? [[name, block]] : [])))
        const hasSecrets = uses.some(({ block = '' }) => secretBlocks.has(block))
        const { file, linesAbove } = body
        const source = { file, linesAbove, files: [...shown], named: [...named], hasSecrets }
        const rendered: RenderedBody =
          body.format === 'markdown'
            ? { ...source, format: 'markdown', htmlJson: JSON.stringify(text) }
            : { ...source, format: 'mdx', code: text, components, map }
        if (remembered) memory.keepOutput(remembered, { scope, addresses: [...addresses], body: rendered })
        return rendered
      }
    },
  }
}

const NO_DIMENSIONS = { width: null, height: null }

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

/** What rendering needs of a check and of the configuration. */
export interface RenderContext {
  readonly resolveLink: LinkResolver
  readonly highlighter: Highlighter | undefined
  readonly blocks: BlockFields
  /** What is put before the paths of pictures and other files. */
  readonly assetBase: string
  readonly asset: AssetReader
  readonly memory: Pick<SiteMemory, 'outputOf' | 'keepOutput' | 'stages' | 'hasMaps'>
}

/** What rendering bodies gave. */
export interface RenderedBodies {
  /** The names of the parts of each collection. */
  readonly bodies: ReadonlyMap<string, readonly string[]>
  /** The parts themselves, where they are remembered. */
  readonly rendered: ReadonlyMap<string, readonly RenderedPart[]>
  /** Plain texts of the bodies that are searched. */
  readonly texts: ReadonlyMap<Entry, string>
  readonly diagnostics: readonly Diagnostic[]
}

/** Bodies of the last build of the same process, part by part. */
export type BodyMemory = Map<string, RenderedPart>

/** Bodies that are loaded together. */
export interface RenderedPart {
  readonly entries: readonly Entry[]
  readonly generation: number
  readonly rendered: readonly (RenderedBody | undefined)[]
}

/** Where rendered bodies go, and what is known of the last time. */
interface BodyTarget {
  /** The generated folder. */
  readonly output: string
  readonly parts: Pick<PartKeeper, 'keep' | 'unit'>
  /** Is awaited after each part, so that it can be written. */
  turn?(): Promise<void>
  readonly memory?: { readonly bodies: BodyMemory; readonly links: { readonly generation: number } } | undefined
}

/**
 * Renders the bodies of all entries into the modules of their parts. Each part is handed on at once: of thousands of
 * bodies the pieces that they are put together from would not fit into memory.
 */
export async function renderBodies(
  collections: readonly LinkedCollection[],
  { bodyRenderer }: SiteRendering,
  { output, parts, memory, turn }: BodyTarget,
): Promise<RenderedBodies> {
  const texts = new Map<Entry, string>()
  const bodies = new Map<string, string[]>()
  const keptParts = new Map<string, readonly RenderedPart[]>()
  const diagnostics: Diagnostic[] = []
  const { generation } = memory?.links ?? { generation: 0 }
  for (const { collection, entries } of collections) {
    if (!collection.body) continue
    const { name } = collection
    const renderBody = bodyRenderer(collection)
    const isSearched = collection.search.some(({ path }) => path[0] === 'body')
    const render = async (entry: Entry): Promise<RenderedBody | undefined> => {
      try {
        return await renderBody(entry)
      } catch (error) {
        if (!(error instanceof BodyError)) throw error
        diagnostics.push(error.diagnostic)
        return undefined
      }
    }
    const names: string[] = []
    const kept: RenderedPart[] = []
    if (memory) keptParts.set(name, kept)
    for (let start = 0; start < entries.length; start += BODIES_A_PART) {
      const own = entries.slice(start, start + BODIES_A_PART)
      const unit = `bodies from ${start}`
      const last = memory?.bodies.get(`${name} ${unit}`)
      const isSame = last?.generation === generation && isEqual(last.entries, own)
      const rendered: (RenderedBody | undefined)[] = isSame ? [...last.rendered] : []
      for (const entry of own) {
        if (isSearched && entry.body) texts.set(entry, await textOf(entry.body))
        if (!isSame) rendered.push(await render(entry))
      }
      const part = { entries: own, generation, rendered }
      memory?.bodies.set(`${name} ${unit}`, part)
      kept.push(part)
      const make = (): string => parts.keep('bodies', name, emitBodies(rendered.map((body) => emitBody(body, output))))
      names.push(parts.unit(name, unit, { isSame: last !== undefined && isEqual(last.rendered, rendered), make }))
      await turn?.()
    }
    bodies.set(name, names)
  }
  return { bodies, texts, diagnostics, rendered: keptParts }
}

/** True for lists of the very same things. */
const isEqual = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one.length === other.length && one.every((item, at) => item === other[at])

/** The plain text of a body. */
async function textOf({ parsed }: EntryBody): Promise<string> {
  if (parsed instanceof RememberedBody && parsed.known.text === undefined) await parsed.prepare()
  return parsed.text()
}

/** Opens the body of an entry in memory. */
export function createBodyOpener(
  collection: CollectionModel,
  { bodyRenderer }: SiteRendering,
): (entry: Entry) => Promise<StoredBody | null> {
  const renderBody = bodyRenderer(collection)
  return async (entry) => {
    const body = await renderBody(entry)
    if (!body) return null
    if (body.format === 'markdown') return { format: 'markdown', html: JSON.parse(body.htmlJson) as string }
    // The code is that of a function, as the generated module has it.
    const compiled = new AsyncFunction(body.code) as CompiledBody
    return { format: 'mdx', html: null, compiled, components: body.components }
  }
}

const addressOf = (href: string, entry: Entry, context: RenderContext): string =>
  addressOfTarget(href, context.resolveLink(href, entry as LinkedEntry), context)

function addressOfTarget(href: string, target: LinkTarget, { assetBase }: Pick<RenderContext, 'assetBase'>): string {
  // What is not published has no address, where a site makes that a warning.
  if (target.kind === 'hidden' || target.kind === 'guarded') return '#'
  if (target.kind === 'asset') return assetBase + encodeURI(target.file) + href.replace(/^[^?#]*/, '')
  if (target.kind !== 'entry' || target.address === undefined || href.startsWith('#')) return href
  return target.fragment === '' ? target.address : `${target.address}#${target.fragment}`
}
