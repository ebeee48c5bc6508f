import type { CollectionModel } from '../schema/model.ts'

/** The patterns of names that start with a dot, of which each needs to be named: no wildcard matches a dot in front. */
export const dotNamesOf = (collections: readonly Pick<CollectionModel, 'files'>[]): readonly string[] => [
  ...new Set(
    collections.flatMap(({ files }) =>
      files.flatMap((glob) => glob.split('/').filter((name) => /^[{(@+?]*\./.test(name))),
    ),
  ),
]
