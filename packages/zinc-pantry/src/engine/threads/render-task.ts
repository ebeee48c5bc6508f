import type { BodyReader } from '../../body/body-reader.ts'
import { type Highlighter, loadHighlighter } from '../../body/highlighter.ts'
import type { BodyText } from '../../body/markdown/markdown-body.ts'
import type { OutputAddress } from '../../emit/output-address.ts'
import { type BodyRenderer, type BodyResult, createBodyRenderer } from '../../emit/render-body.ts'
import type { Host, Task } from '../../host/host.ts'
import type { WrittenFacts } from '../../schema/body-facts.ts'
import type { BodyDemands } from '../../schema/body-settings.ts'
import type { Fields } from '../../schema/field.ts'
import type { BlockFields } from '../../schema/kind.ts'
import type { CollectionModel } from '../../schema/model.ts'
import type { Entry, EntryBody } from '../../validate/entry.ts'
import { createCollectionReader } from '../collection-reader.ts'
import { createLazyFieldRenderer } from '../field-renderer.ts'

/** What a thread must know of a site to render its bodies: plain data. */
export interface RenderSettings extends BodyDemands {
  readonly blocks: readonly (readonly [name: string, fields: Fields])[]
  /** The blocks that take properties beyond their fields. */
  readonly open: readonly string[]
  readonly hasMaps: boolean
  readonly compilesMdx: boolean
  readonly collections: readonly RenderedCollection[]
}

/** What it must know of a collection. */
export interface RenderedCollection extends Pick<CollectionModel, 'name' | 'body' | 'trusted'> {
  /** True where the plain text of bodies is searched. */
  readonly isSearched: boolean
}

/** A body to be rendered: plain data. */
export interface RenderQuestion extends Pick<Entry, 'collection' | 'properties'> {
  readonly body: EntryBody
  readonly text: BodyText
  /** What becomes of the addresses in it. */
  readonly addresses: readonly (readonly [written: string, output: OutputAddress])[]
}

/** A body as it was rendered, with what was found in it. */
export interface RenderAnswer {
  readonly result: BodyResult
  readonly facts: WrittenFacts
  readonly text: string | undefined
  /** The addresses that were asked for. */
  readonly asked: readonly string[]
}

/** Makes what renders bodies in a thread of its own. A body of which not all addresses are known is no question for it. */
export async function makeTask(settings: RenderSettings, { colouring }: Pick<Host, 'colouring'>): Promise<Task> {
  const highlighter = settings.hasColours ? await loadHighlighter(colouring) : undefined
  const blocks: BlockFields = Object.assign(new Map(settings.blocks), { open: new Set(settings.open) })
  const renderers = new Map(
    settings.collections.map(
      (one) => [one.name, createThreadRenderer(one, { settings, blocks, highlighter })] as const,
    ),
  )
  return (question) => {
    const { collection } = question as RenderQuestion
    return (renderers.get(collection) as ReturnType<typeof createThreadRenderer>)(question as RenderQuestion)
  }
}

interface ThreadContext {
  readonly settings: RenderSettings
  readonly blocks: BlockFields
  readonly highlighter: Highlighter | undefined
}

function createThreadRenderer(
  collection: RenderedCollection,
  { settings, blocks, highlighter }: ThreadContext,
): (question: RenderQuestion) => Promise<RenderAnswer> {
  const { hasColours, hasExcerpts, hasMaps, compilesMdx } = settings
  const options = {
    blocks: [...blocks.keys()],
    settings: collection.body,
    hasColours,
    hasExcerpts,
    hasMaps,
    compilesMdx,
  }
  let made: { readonly reader: BodyReader; readonly render: BodyRenderer } | undefined
  const open = (): NonNullable<typeof made> => {
    const renderField = createLazyFieldRenderer(collection, highlighter)
    made ??= {
      reader: createCollectionReader(options, collection.name).reader,
      render: createBodyRenderer({ blocks, highlighter, renderField }),
    }
    return made
  }
  return async ({ body, text, properties, addresses }) => {
    const { reader, render } = open()
    if (body.format === 'mdx') await reader.loadMdx()
    const parsed = body.format === 'mdx' ? reader.readMdx(text) : reader.readMarkdown(text)
    const known = new Map(addresses)
    const asked = new Set<string>()
    const facts = body.summary.facts ?? parsed.facts()
    const plain = collection.isSearched ? parsed.text() : undefined
    const result = await render({ body, properties }, parsed, (href) => {
      const output = known.get(href)
      if (!output) throw new Error('an address that is not known')
      asked.add(href)
      return output
    })
    return { result, facts, text: plain, asked: [...asked] }
  }
}
