import type { BlockProperties, BlockUse, ParsedBody } from '../body/parsed-body.ts'
import type { SortKey } from '../query/condition.ts'
import type { BodyFacts, BodyImage } from '../schema/body-facts.ts'
import { shapeOf } from '../schema/compile-schema.ts'
import type { BlockFields, Fields, Shape } from '../schema/field.ts'
import { alternativesOf, visibleFields } from '../schema/fields/variant.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import { createStoreContext } from '../schema/store-fields.ts'
import type { Entry } from '../validate/entry.ts'

/** An entry as it is stored and queried: without what is private. */
export type StoredEntry = Readonly<Record<string, unknown>>

/** Gives the HTML of Markdown in a field of an entry. */
export type FieldRenderer = (text: string, entry: Entry) => string

/** What becomes of fields of Markdown in the output. */
export interface Rendering {
  /** Makes a renderer of the fields of a collection to HTML. */
  fieldRenderer(collection: CollectionModel): FieldRenderer
  readonly links: LinkAddresses
}

/** Where links of entries lead in the output. */
export interface LinkAddresses {
  /** The address that a link has on the page; undefined for one that leads to what is not published. */
  addressOf(href: string, entry: Entry): string | undefined
  /** The dimensions of a picture of the content folder, in pixels. */
  dimensionsOf(href: string, entry: Entry): { readonly width: number | null; readonly height: number | null }
}

/** Makes stored entries of one collection. */
export function createStorer(
  collection: CollectionModel,
  blocks: BlockFields,
  { fieldRenderer, links }: Rendering,
): (entry: Entry) => StoredEntry {
  const render = fieldRenderer(collection)
  const store = createStoreContext(blocks, (text, entry) => render(text, entry as Entry)).group(allFields(collection))
  return (entry) => {
    const { id, slug, collection: name, locale, source, data = {} } = entry
    return {
      id,
      slug,
      collection: name,
      ...(locale === undefined ? {} : { locale }),
      source,
      ...(collection.body ? { body: bodyOf(entry, links) } : {}),
      ...(store ? (store(data, entry) as object) : data),
    }
  }
}

/** What an entry says of its body; null where it has none, as an entry of a data file. */
const bodyOf = (entry: Entry, links: LinkAddresses): object | null =>
  entry.body ? { format: entry.body.format, ...factsOf(entry.body.parsed, entry, links) } : null

/** What a body says of itself, with the addresses of the page and without what leads to something hidden. */
function factsOf(parsed: ParsedBody, entry: Entry, { addressOf, dimensionsOf }: LinkAddresses): BodyFacts {
  const facts = parsed.facts()
  const links = facts.links.flatMap((href) => addressOf(href, entry) ?? [])
  const images = facts.images.flatMap(({ src, alt }): BodyImage[] => {
    const address = addressOf(src, entry)
    return address === undefined ? [] : [{ src: address, alt, ...dimensionsOf(src, entry) }]
  })
  return { ...facts, links: [...new Set(links)], images, firstImage: images[0] ?? null }
}

const TEXT: Shape = { kind: 'text' }
const NUMBER: Shape = { kind: 'number' }
const IMAGE: Shape = { kind: 'group', fields: { src: TEXT, alt: TEXT, width: NUMBER, height: NUMBER } }

/** The shape of what entries say of their bodies. */
const BODY: Shape = {
  kind: 'group',
  fields: {
    format: { kind: 'plain', choices: ['markdown', 'mdx'] },
    outline: { kind: 'list', item: { kind: 'group', fields: { id: TEXT, text: TEXT, depth: NUMBER } } },
    links: { kind: 'list', item: TEXT },
    images: { kind: 'list', item: IMAGE },
    firstImage: IMAGE,
    blocks: { kind: 'list', item: TEXT },
    excerpt: TEXT,
    words: NUMBER,
    minutes: NUMBER,
  },
}

/** The shapes of a collection's fields, of all its variants together. */
export const shapesOf = (collection: CollectionModel, blocks: BlockFields): Record<string, Shape> => ({
  ...(collection.locales === undefined ? {} : { locale: { kind: 'plain' } }),
  ...(collection.body ? { body: BODY } : {}),
  ...Object.fromEntries(
    Object.entries(visibleFields(allFields(collection))).map(([name, field]) => [name, shapeOf(field, blocks)]),
  ),
})

/** What a collection is ordered by, up to the first key that is private: what is behind it orders only a part. */
export function toldOrder(collection: CollectionModel): SortKey[] {
  const fields = visibleFields(allFields(collection))
  const hidden = collection.order.findIndex(({ field }) => !Object.hasOwn(fields, field))
  return collection.order
    .slice(0, hidden === -1 ? undefined : hidden)
    .map(({ field, direction }) => ({ path: [field], direction }))
}

/** Makes what components for blocks are given of the values of a use: without what is private. */
export function createBlockStorer(
  blocks: BlockFields,
  renderField: FieldRenderer,
): (use: BlockUse, values: StoredEntry, entry: Entry) => BlockProperties {
  const context = createStoreContext(blocks, (text, entry) => renderField(text, entry as Entry))
  return ({ name, block = '', open }, values, entry) => {
    const stored = context.block(block)?.(values, entry) ?? values
    const known = Object.entries(stored).filter(([key]) => open === 'all' || !open.has(key))
    const hidden = hiddenNames(blocks.get(block) ?? {}, values)
    return { name, values: Object.fromEntries(known), hidden }
  }
}

/** The names that are private in the shape of some values; of an unknown shape, those that are private in any. */
function hiddenNames(fields: Fields, values: StoredEntry): ReadonlySet<string> {
  const { key, alternatives } = alternativesOf(fields)
  const own = alternatives.filter(({ name }) => key === undefined || name === values[key])
  const shapes = own.length > 0 ? own : alternatives
  return new Set(
    shapes.flatMap(({ fields: all }) => Object.keys(all).filter((name) => all[name]?.options.private === true)),
  )
}
