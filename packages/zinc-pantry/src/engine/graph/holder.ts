import type { CollectionModel } from '../../schema/model.ts'
import type { Entry } from '../../validate/entry.ts'

/** The entries of a collection. */
export interface Holder {
  readonly collection: CollectionModel
  readonly entries: readonly Entry[]
}
