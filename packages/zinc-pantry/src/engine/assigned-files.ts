import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { CollectionFiles, NearMiss } from '../find/assign-files.ts'
import type { Model } from '../schema/model.ts'
import { hasPrivate } from '../schema/store-fields.ts'

/** Files that hold something that is not to be seen, with the names of their collections: they are never published. */
export const findGuardedFiles = (
  assigned: readonly CollectionFiles[],
  blocks: Model['blocks'],
): ReadonlyMap<string, string> =>
  new Map(
    assigned
      .filter(({ collection }) => collection.publication !== undefined || hasPrivate(collection.fields, blocks))
      .flatMap(({ collection, files }) => files.map(({ path }) => [path, collection.name])),
  )

/** Files that only their ending keeps out of a collection; those that an entry shows or leads to are meant so. */
export function describeNearMisses(
  nearMisses: readonly NearMiss[],
  usedFiles: () => ReadonlySet<string>,
  content: string,
): Diagnostic[] {
  if (nearMisses.length === 0) return []
  const used = usedFiles()
  return nearMisses
    .filter(({ path }) => !used.has(path))
    .map(({ path, collection, globs }) =>
      createDiagnostic('file-unmatched', { file: `${content}/${path}`, span: [0, 0] }, { collection, globs }),
    )
}
