import type { Highlighter } from '../../body/highlighter.ts'
import type { StoredRows } from '../../emit/entry-readers.ts'
import {
  createOutputAddress,
  type Dimensions,
  type EntryLinks,
  isSameAddress,
  type MadePicture,
  type OutputAddress,
  writeAddress,
} from '../../emit/output-address.ts'
import { type BodyResult, createBodyRenderer } from '../../emit/render-body.ts'
import { createStorer, type FieldRenderer, type Stored, shapesOf } from '../../emit/stored-entry.ts'
import type { LinkResolver, LinkTarget } from '../../link/link-resolver.ts'
import type { AssetFacts } from '../../schema/asset.ts'
import type { BodySources } from '../../schema/body-settings.ts'
import { planSources } from '../../schema/image-sources.ts'
import type { BlockFields } from '../../schema/kind.ts'
import type { CollectionModel } from '../../schema/model.ts'
import type { Entry } from '../../validate/entry.ts'
import { createRowView } from '../../values/row-list.ts'
import type { AssetReader } from '../assets.ts'
import type { SiteMemory } from '../cache/site-memory.ts'
import { createLazyFieldRenderer } from '../field-renderer.ts'
import { type BodyThreads, isBodySearched } from '../threads/body-threads.ts'
import type { RenderAnswer } from '../threads/render-task.ts'
import { type BacklinkFinder, findBacklinks } from './find-backlinks.ts'
import type { Holder } from './holder.ts'

/** The surroundings of rendering. */
export interface RenderContext {
  readonly resolveLink: LinkResolver
  readonly highlighter: Highlighter | undefined
  readonly blocks: BlockFields
  /** That of the model. */
  readonly outline: object
  /** The prefix of the paths of pictures and other files. */
  readonly assetBase: string
  readonly asset: AssetReader
  /** Another object where what is known of files may be different. */
  readonly assetState: unknown
  readonly memory: Pick<SiteMemory, 'memo' | 'bodies' | 'outputOf' | 'keepOutput' | 'hasMaps'>
  readonly threads: BodyThreads
}

/** Entries as they are in the output: links lead to the pages of entries, and Markdown is HTML. */
export interface SiteRendering {
  /**
   * Entries as they are stored, made when they are asked for; where rows are not to be held those that are copies of
   * values are made each time.
   */
  storedRows(holder: Holder, options?: { readonly isHeld?: boolean }): RenderedRows
  /** The bodies of entries, each rendered when it is asked for. */
  bodies(holder: Holder): readonly LazyBody[]
  /** The number of bodies that are worth rendering at once. */
  atOnce(): number
  /** What leads to the entries of a site; its bodies must be prepared. */
  backlinks(holders: readonly Holder[]): BacklinkFinder
}

/** A body that is rendered when it is asked for. */
export interface LazyBody {
  /** Where it is rendered already, and remembered. */
  readonly result?: BodyResult | undefined
  render(): Promise<BodyResult>
}

/** Entries as they are stored. */
export interface RenderedRows extends StoredRows {
  /** The files and images that they name beside their values. */
  named(): readonly Pick<Stored, 'files' | 'renditions'>[]
}

/** Makes the rendering of a site. */
export function createRendering(context: RenderContext): SiteRendering {
  const { blocks, outline, memory, assetState, resolveLink } = context
  const { memo } = memory
  const links = createLinks(context)
  const renderers = new Map<string, FieldRenderer>()
  const rendererOf = (collection: CollectionModel): FieldRenderer => {
    const known = renderers.get(collection.name) ?? createLazyFieldRenderer(collection, context.highlighter)
    renderers.set(collection.name, known)
    return known
  }
  return {
    storedRows({ collection, entries }, { isHeld = true } = {}) {
      const shapes = shapesOf(collection, blocks)
      const storer = createStorer(collection, blocks, (text, rewrite) => rendererOf(collection)(text, rewrite))
      const { copy } = storer
      if (copy && !isHeld) {
        const copies = createRowView(entries, copy)
        return { collection, entries, shapes, named: () => [], rows: () => copies }
      }
      const list = (): readonly Stored[] => {
        return memo.within('stored').map(collection.name, entries, {
          inputs: [outline],
          look: (entry, { href, isDimensions }: LinkQuestion): OutputAddress | Dimensions =>
            isDimensions ? links.dimensions(href, entry) : links.address(href, entry, collection.body?.sources),
          make: (entry, read) => storer.store(entry, readLinks(read), entry.body && memory.bodies.factsOf(entry.body)),
          answeredFrom: [resolveLink, assetState],
          isSameRead: isSameAnswer,
        })
      }
      let stored: readonly Stored[] | undefined
      let rows: readonly Stored['entry'][] | undefined
      const storedOnce = (): readonly Stored[] => {
        stored ??= list()
        return stored
      }
      return {
        collection,
        entries,
        shapes,
        named: storedOnce,
        rows() {
          rows ??= memo.within('rows').map(collection.name, storedOnce(), { make: (one) => one.entry })
          return rows
        },
      }
    },
    backlinks: (holders) => findBacklinks(holders, context),
    atOnce: context.threads.atOnce,
    bodies({ collection, entries }) {
      const render = createCachedRenderer(collection, context, rendererOf(collection))
      return memo.within('bodies').map(collection.name, entries, {
        inputs: [outline],
        look: (entry, href: string) => links.address(href, entry, collection.body?.sources),
        readsLater: true,
        make: (entry, read) => createLazyBody(() => render(entry, read), memo.isKept),
        answeredFrom: collection.body?.sources ? [resolveLink, assetState] : [resolveLink],
        isSameRead: isSameAddress,
      })
    },
  }
}

/** A question about a link. */
interface LinkQuestion {
  readonly href: string
  readonly isDimensions: boolean
}

const readLinks = (read: (question: LinkQuestion) => OutputAddress | Dimensions): EntryLinks => ({
  address: (href) => read({ href, isDimensions: false }) as OutputAddress,
  dimensions: (href) => read({ href, isDimensions: true }) as Dimensions,
})

function isSameAnswer(one: OutputAddress | Dimensions, other: OutputAddress | Dimensions): boolean {
  if ('width' in one) return 'width' in other && one.width === other.width && one.height === other.height
  return 'address' in other && isSameAddress(one, other)
}

function createLinks({ resolveLink, assetBase, asset }: RenderContext) {
  const factsOf = (target: LinkTarget): AssetFacts | undefined => {
    const answer = target.kind === 'asset' ? asset(`/${target.file}`, '') : undefined
    return answer && 'facts' in answer ? answer.facts : undefined
  }
  return {
    address(href: string, entry: Entry, sources: BodySources | undefined): OutputAddress {
      const target = resolveLink(href, entry)
      const output = createOutputAddress(href, target, assetBase)
      const facts = sources && factsOf(target)
      const made = sources && facts && planPicture(facts, sources)
      return made ? { ...output, made } : output
    },
    dimensions(href: string, entry: Entry): Dimensions {
      const { width = null, height = null } = factsOf(resolveLink(href, entry)) ?? {}
      return { width, height }
    },
  }
}

/** What is made of an image of a body; undefined where nothing is. */
function planPicture(facts: AssetFacts, { sizes, ...options }: BodySources): MadePicture | undefined {
  const { width, height, base } = facts
  const { sources, renditions } = planSources(facts, options)
  if (sources.length === 0 || width === undefined || height === undefined) return undefined
  const shown = sources.map((one) => (sizes === undefined ? one : { ...one, sizes }))
  return { picture: { width, height, sources: shown }, renditions, base }
}

const NOTHING: BodyResult = { body: undefined, diagnostics: [] }

/** Renders bodies, or takes them from an earlier process where all that they are made of is the same. */
function createCachedRenderer(
  collection: CollectionModel,
  { blocks, highlighter, memory, threads }: RenderContext,
  renderField: FieldRenderer,
): (entry: Entry, read: (href: string) => OutputAddress) => Promise<BodyResult> {
  const { bodies } = memory
  const render = createBodyRenderer({ blocks, highlighter, renderField })
  const isSearched = isBodySearched(collection)
  return async (entry, read) => {
    const { body, properties } = entry
    if (!body) return NOTHING
    const { file } = body
    const scope = JSON.stringify([highlighter !== undefined, memory.hasMaps, properties])
    const kept = memory.outputOf(file)
    if (kept) bodies.note(file, kept)
    if (kept?.scope === scope && kept.addresses.every(([written, address]) => writeAddress(read(written)) === address))
      return { body: kept.body, diagnostics: [] }
    const addresses = new Map<string, string>()
    const keep = (result: BodyResult, { facts, text }: Pick<RenderAnswer, 'facts' | 'text'>): BodyResult => {
      if (result.body) memory.keepOutput(file, { scope, body: result.body, facts, text }, [...addresses])
      return result
    }
    const known = new Map<string, OutputAddress>()
    const answer = await threads.render(collection, () => {
      const text = bodies.takeText(file)
      if (!text) return undefined
      for (const { addresses: written } of [body.summary, ...entry.texts.map(({ summary }) => summary)])
        for (const href of written) known.set(href, read(href))
      return { body, text, properties, addresses: [...known] }
    })
    if (answer) {
      for (const href of answer.asked) addresses.set(href, writeAddress(known.get(href) as OutputAddress))
      bodies.note(file, answer)
      return keep(answer.result, answer)
    }
    return threads.renderHere(async () => {
      await bodies.prepare([body])
      // What was parsed is gone once it is rendered.
      const facts = bodies.factsOf(body)
      const text = isSearched ? bodies.textOf(body) : undefined
      bodies.note(file, { facts, text })
      const result = await render({ body, properties }, bodies.parse(file), (href) => {
        const output = read(href)
        addresses.set(href, writeAddress(output))
        return output
      })
      return keep(result, { facts, text })
    })
  }
}

function createLazyBody(render: () => Promise<BodyResult>, isRemembered: boolean): LazyBody {
  if (!isRemembered) return { render }
  let started: Promise<BodyResult> | undefined
  const body: { result: BodyResult | undefined; render(): Promise<BodyResult> } = {
    result: undefined,
    render() {
      started ??= render().then((result) => {
        body.result = result
        return result
      })
      return started
    },
  }
  return body
}
