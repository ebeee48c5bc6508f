import type { AnyField } from '../schema/any-field.ts'
import { leadingOf } from '../schema/kinds.ts'
import { allFields, type Model, visitFields } from '../schema/model.ts'

/** The collections whose slugs are known to be used: declared, shared with others, or named by references. */
export function findUsedSlugs({ collections, blocks, sharedSlugs }: Model): ReadonlySet<string> {
  const used = new Set(sharedSlugs.flat())
  const visit = (field: AnyField): void => {
    const leading = leadingOf(field)
    if (leading?.by === 'slug') for (const target of leading.targets) used.add(target)
  }
  for (const collection of collections) {
    if (
      collection.slug.by === 'key' ||
      collection.slug.by === 'function' ||
      collection.addressVariables.includes('slug')
    )
      used.add(collection.name)
    visitFields(allFields(collection), visit)
  }
  for (const fields of blocks.values()) visitFields(fields, visit)
  return used
}
