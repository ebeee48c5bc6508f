import type { BlockProperties, BlockUse } from '../body/parsed-body.ts'
import { shapeOf } from '../schema/compile-schema.ts'
import type { BlockFields, Field, Fields, Shape } from '../schema/field.ts'
import { blockKeyOf } from '../schema/fields/block.ts'
import { alternativesOf, mergedFields } from '../schema/fields/variant.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'
import type { Entry } from '../validate/entry.ts'

/** An entry as it is stored and queried: without what is private. */
export type StoredEntry = Readonly<Record<string, unknown>>

/** Gives the HTML of Markdown in a field of an entry. */
export type FieldRenderer = (text: string, entry: Entry) => string

/** What becomes of fields of Markdown in the output. */
export interface Rendering {
  /** Makes a renderer of the fields of a collection to HTML. */
  fieldRenderer(collection: CollectionModel): FieldRenderer
}

/** What every step into a value needs. */
interface Storing {
  readonly blocks: BlockFields
  readonly renderField: FieldRenderer
}

/** Makes stored entries of one collection. */
export function createStorer(
  collection: CollectionModel,
  blocks: BlockFields,
  { fieldRenderer }: Rendering,
): (entry: Entry) => StoredEntry {
  const strip = storeFields(allFields(collection), { blocks, renderField: fieldRenderer(collection) })
  return (entry) => {
    const { id, slug, collection: name, locale, source, body, data = {} } = entry
    return {
      id,
      slug,
      collection: name,
      ...(locale === undefined ? {} : { locale }),
      source,
      ...(body ? { body: { format: body.format, ...body.parsed.facts() } } : {}),
      ...(strip ? (strip(data, entry) as object) : data),
    }
  }
}

/** The fields of a collection that its output has. */
export const publicFields = (fields: Fields): Fields =>
  Object.fromEntries(Object.entries(fields).filter(([, { options }]) => options.private !== true))

const TEXT: Shape = { kind: 'text' }
const IMAGE: Shape = { kind: 'group', fields: { src: TEXT, alt: TEXT } }

/** The shape of what entries say of their bodies. */
const BODY: Shape = {
  kind: 'group',
  fields: {
    format: { kind: 'plain', choices: ['markdown', 'mdx'] },
    outline: { kind: 'list', item: { kind: 'group', fields: { id: TEXT, text: TEXT, depth: { kind: 'number' } } } },
    links: { kind: 'list', item: TEXT },
    images: { kind: 'list', item: IMAGE },
    firstImage: IMAGE,
    blocks: { kind: 'list', item: TEXT },
    excerpt: TEXT,
    words: { kind: 'number' },
    minutes: { kind: 'number' },
  },
}

/** The shapes of a collection's fields, of all its variants together. */
export const shapesOf = (collection: CollectionModel, blocks: BlockFields): Record<string, Shape> => ({
  ...(collection.locales === undefined ? {} : { locale: { kind: 'plain' } }),
  ...(collection.body ? { body: BODY } : {}),
  ...Object.fromEntries(
    Object.entries(publicFields(mergedFields(allFields(collection)))).map(([name, field]) => [
      name,
      shapeOf(field, blocks),
    ]),
  ),
})

type Store = ((value: unknown, entry: Entry) => unknown) | undefined

/** Takes private values out and renders Markdown; undefined where there is neither, so that nothing need be copied. */
function storeField(field: Field, storing: Storing, above: readonly string[]): Store {
  if (field.kind === 'markdown') {
    const { renderField } = storing
    return (value, entry) => (typeof value === 'string' ? { text: value, html: renderField(value, entry) } : value)
  }
  if (field.kind === 'list') {
    const strip = storeField(field.item as Field, storing, above)
    return strip && ((value, entry) => (Array.isArray(value) ? value.map((item) => strip(item, entry)) : value))
  }
  if (field.kind === 'map') {
    const strip = storeField(field.item as Field, storing, above)
    return (
      strip &&
      ((value, entry) =>
        isGroup(value)
          ? Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, strip(inner, entry)]))
          : value)
    )
  }
  if (field.kind === 'group') return storeFields(field.fields ?? {}, storing, above)
  return field.kind === 'block' ? storeBlock(field, storing, above) : undefined
}

const isGroup = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null

function storeBlock(field: Field, storing: Storing, above: readonly string[]): Store {
  const key = blockKeyOf(field)
  const strips = new Map<string, Store>()
  for (const name of field.blocks ?? []) {
    // A block that holds itself is stripped by the pass that is under way.
    if (above.includes(name)) continue
    strips.set(name, storeFields(storing.blocks.get(name) ?? {}, storing, [...above, name]))
  }
  if ([...strips.values()].every((strip) => strip === undefined)) return undefined
  return (value, entry) => (isGroup(value) ? (strips.get(String(value[key]))?.(value, entry) ?? value) : value)
}

function storeFields(fields: Fields, storing: Storing, above: readonly string[] = []): Store {
  const hidden = new Set<string>()
  const inner = new Map<string, NonNullable<Store>>()
  for (const { fields: own } of alternativesOf(fields).alternatives)
    for (const [name, field] of Object.entries(own)) {
      if (field.options.private) hidden.add(name)
      const strip = storeField(field, storing, above)
      if (strip) inner.set(name, strip)
    }
  if (hidden.size + inner.size === 0) return undefined
  return (value, entry) => {
    if (!isGroup(value)) return value
    const kept = Object.entries(value).filter(([name]) => !hidden.has(name))
    return Object.fromEntries(kept.map(([name, part]) => [name, inner.get(name)?.(part, entry) ?? part]))
  }
}

/** Makes what components for blocks are given of the values of a use: without what is private. */
export function createBlockStorer(
  blocks: BlockFields,
  renderField: FieldRenderer,
): (use: BlockUse, values: StoredEntry, entry: Entry) => BlockProperties {
  const storing = { blocks, renderField }
  return ({ name, block = '', open }, values, entry) => {
    const fields = blocks.get(block) ?? {}
    const stored = storeFields(fields, storing, [block])?.(values, entry) ?? values
    const hidden = Object.entries(mergedFields(fields)).filter(([, { options }]) => options.private)
    const known = Object.entries(stored).filter(([key]) => open === 'all' || !open.has(key))
    return { name, values: Object.fromEntries(known), hidden: new Set(hidden.map(([key]) => key)) }
  }
}
