import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type Assignment, assignFiles, type CollectionFiles, type NearMiss } from '../find/assign-files.ts'
import type { UnportableName } from '../find/unportable-name.ts'
import { extensions } from '../read/formats.ts'
import type { Model } from '../schema/model.ts'
import { hasPrivate } from '../schema/store-fields.ts'

/** What files were assigned to in the last run, and what their names were found to be. */
export interface AssignMemory {
  last?: { readonly model: Model; readonly files: readonly string[]; readonly result: Assignment }
  guarded?: { readonly assigned: Assignment['assigned']; readonly files: ReadonlyMap<string, string> }
  names?: { readonly files: readonly string[]; readonly unportable: readonly UnportableName[] }
}

/** Assigns files to collections; nothing changes as long as the configuration and the names of files are the same. */
export function assignAgain(model: Model, files: readonly string[], memory: AssignMemory | undefined): Assignment {
  const { last } = memory ?? {}
  if (last && last.model === model && last.files === files) return last.result
  const result = assignFiles(model.collections, files, extensions)
  if (memory) memory.last = { model, files, result }
  return result
}

/** The same files as long as the same collections read them. */
export function findGuardedAgain(
  { assigned, model }: { readonly assigned: Assignment['assigned']; readonly model: Model },
  memory: AssignMemory | undefined,
): ReadonlyMap<string, string> {
  if (memory?.guarded?.assigned === assigned) return memory.guarded.files
  const files = findGuardedFiles(assigned, model.blocks)
  if (memory) memory.guarded = { assigned, files }
  return files
}

/** Files that hold something that is not to be seen, with the names of their collections: they are never published. */
const findGuardedFiles = (assigned: readonly CollectionFiles[], blocks: Model['blocks']): ReadonlyMap<string, string> =>
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
