import { type BlockUse, isOpen } from '../body/body-summary.ts'
import type { BlockProperties, Rewrite } from '../body/parsed-body.ts'
import type { SortKey } from '../query/condition.ts'
import type { BodyFacts, BodyImage, WrittenFacts } from '../schema/body-facts.ts'
import { shapeOf } from '../schema/compile-schema.ts'
import type { Fields } from '../schema/field.ts'
import { alternativesOf, visibleFields } from '../schema/fields/variant.ts'
import type { Rendition } from '../schema/image-sources.ts'
import type { BlockFields } from '../schema/kind.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import type { Shape } from '../schema/shape.ts'
import { createStoreContext } from '../schema/store-fields.ts'
import type { Entry } from '../validate/entry.ts'
import { createRewrite, type EntryLinks } from './output-address.ts'

/** An entry as it is stored and queried: without what is private. */
export type StoredEntry = Readonly<Record<string, unknown>>

/** Gives the HTML of Markdown in a field. */
export type FieldRenderer = (text: string, rewrite: Rewrite) => string

/** An entry as it is stored, and the files of the content folder that it names by pictures and links. */
export interface Stored {
  readonly entry: StoredEntry
  readonly files: readonly string[]
  /** The images that are made for Markdown in its fields, and for what it says of its body; left out where there are none. */
  readonly renditions?: readonly Rendition[]
}

/** Makes stored entries of one collection. */
export interface Storer {
  store(entry: Entry, links: EntryLinks, facts: WrittenFacts | undefined): Stored
  /** Makes a stored entry that is a copy of the values; undefined where more is done to them than that. */
  readonly copy: ((entry: Entry) => StoredEntry) | undefined
}

/** Makes what stores the entries of a collection. */
export function createStorer(collection: CollectionModel, blocks: BlockFields, render: FieldRenderer): Storer {
  const context = createStoreContext(blocks, (text, rewrite) => render(text, rewrite as Rewrite))
  const toStored = context.group(allFields(collection))
  const store: Storer['store'] = (entry, links, facts) => {
    const { data = {}, body } = entry
    const files = new Set<string>()
    const renditions = new Map<string, Rendition>()
    const rewrite = createRewrite(links.address, {
      file: (_address, file) => files.add(file),
      rendition: (address, one) => renditions.set(address, one),
    })
    const ofBody = facts && body ? { format: body.format, ...publishFacts(facts, links, { files, rewrite }) } : null
    const values = toStored ? (toStored(data, rewrite) as object) : data
    return {
      entry: describe(entry, collection.body ? { body: ofBody, ...values } : values),
      files: files.size === 0 ? NO_FILES : [...files],
      ...(renditions.size > 0 ? { renditions: [...renditions.values()] } : {}),
    }
  }
  const copy = toStored || collection.body ? undefined : (entry: Entry) => describe(entry, entry.data ?? {})
  return { store, copy }
}

/** What every stored entry has, before its values. */
const describe = ({ id, slug, collection, locale, source }: Entry, values: object): StoredEntry => ({
  id,
  slug,
  collection,
  ...(locale === undefined ? {} : { locale }),
  source,
  ...values,
})

const NO_FILES: readonly string[] = []

/** The facts of a body, with the addresses of the page and without links to anything hidden. */
function publishFacts(
  { excerpts: _, ...facts }: WrittenFacts,
  { address, dimensions }: EntryLinks,
  { files, rewrite }: { readonly files: Set<string>; readonly rewrite: Rewrite },
): BodyFacts {
  const shown = (href: string): string[] => {
    const output = address(href)
    return output.isHidden ? [] : [output.address]
  }
  const links = facts.links.flatMap(shown)
  const images = facts.images.flatMap(({ src, alt }): BodyImage[] => {
    const output = address(src)
    if (output.isHidden) return []
    // Who reads of a picture of a body shows it elsewhere, too.
    if (output.file !== undefined) files.add(output.file)
    const picture = rewrite.picture?.(src)
    const sources = picture?.sources.map(({ type, srcset }) => ({ type, srcset }))
    return [{ src: output.address, alt, ...dimensions(src), ...(sources ? { sources } : {}) }]
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

/** The keys of a collection's order, up to the first that is private: those behind it order only a part. */
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
  render: FieldRenderer,
): (use: BlockUse, values: StoredEntry, rewrite: Rewrite) => BlockProperties {
  const context = createStoreContext(blocks, (text, rewrite) => render(text, rewrite as Rewrite))
  return (use, values, rewrite) => {
    const { name, block = '' } = use
    const stored = context.block(block)?.(values, rewrite) ?? values
    const known = Object.entries(stored).filter(([key]) => use.open === 'all' || !isOpen(use, key))
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
