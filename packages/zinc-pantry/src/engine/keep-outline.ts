import type { CollectionModel, Model } from '../schema/model.ts'
import { outlineValues } from '../schema/outline.ts'
import { writeModelText } from './cache/model-text.ts'

/** A model with the outline of the last one, where these say the same; see {@link Model.outline}. */
export function keepOutline(model: Model, last: Model | undefined): Model {
  if (!last) return model
  const text = outlineText(model)
  return text !== undefined && text === outlineText(last) ? { ...model, outline: last.outline } : model
}

/** All that a model says of checked entries; undefined where it has code of which nothing is known. */
function outlineText({ outline: _, collections, blocks, ...settings }: Model): string | undefined {
  const open = [...(blocks.open ?? [])]
  const { text, hasCode } = writeModelText({
    ...settings,
    blocks,
    open,
    collections: collections.map(outlineCollection),
  })
  return hasCode ? undefined : text
}

/** A collection without its functions: those of rules and derived fields are asked for each time, and a slug is one of an entry. */
function outlineCollection({ fields, derived, rules, source: _, slug, ...settings }: CollectionModel): object {
  return {
    ...settings,
    fields: outlineValues(fields),
    derived: Object.entries(derived).map(([name, { field }]) => [name, field]),
    hasRules: rules.length > 0,
    slug: slug.by,
    slugKey: slug.by === 'key' ? slug.key : undefined,
  }
}
