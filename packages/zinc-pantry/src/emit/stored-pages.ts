import type { StoredCollection } from '../query/open-site.ts'
import { allFields, type CollectionModel } from '../schema/model.ts'

/** What a collection is to its readers beside its entries: pages, a tree. What is private is not told. */
export function describePages(collection: CollectionModel): Pick<StoredCollection, 'pages' | 'parent' | 'backlinks'> {
  const { address, formerAddresses, revised, parent } = collection
  const fields = allFields(collection)
  const isShown = (name: string): boolean => fields[name]?.options.private !== true
  const dated = Object.entries(fields).find(([, field]) => field.kind === 'history' && field.end === 'last')?.[0]
  const changed = revised ?? dated
  return {
    ...(address === undefined
      ? {}
      : {
          pages: {
            address,
            ...(formerAddresses === undefined ? {} : { former: formerAddresses }),
            ...(changed !== undefined && isShown(changed) ? { changed } : {}),
          },
        }),
    ...(collection.backlinks ? { backlinks: true } : {}),
    ...(parent !== undefined && isShown(parent) ? { parent } : {}),
  }
}
