import type { CollectionFiles } from '../find/assign-files.ts'
import { keyBeside } from '../memo/kept-results.ts'
import { digestModel } from './cache/model-text.ts'
import type { CheckedCollection } from './check-collection.ts'
import type { CheckContext } from './check-context.ts'
import { describeView, type EntriesView, restoreView } from './entries-view.ts'
import { findPlainCollections } from './plain-collections.ts'

/** Collections that a check need not read, found by what is kept of them. */
export interface Settling {
  /** True for a collection that may not have to be read. */
  mayStand(found: CollectionFiles): boolean
  /** The entries of such a collection as others see them, where nothing can be wrong in it; `read` are those that were read. */
  settle(found: CollectionFiles, read: ReadonlyMap<string, CheckedCollection>): CheckedCollection | undefined
  /** Keeps what others see of collections that were read, and of which of them nothing is told. */
  keep(read: readonly CheckedCollection[], hasProblems: (name: string) => boolean): void
}

/**
 * Opens what is kept of collections; undefined where functions may look at any of them.
 *
 * Of a table that is as it was when nothing was wrong with it, in a site whose other collections are seen by it as they were then,
 * nothing can be wrong now. Two records say so, and what each says follows from its key: one, under a digest of all files, what
 * others see of the collection; the other, under that and what it sees of those that it refers to, that nothing is wrong.
 */
export function openSettling(
  { host, model, memory, code }: CheckContext,
  assigned: readonly CollectionFiles[],
): Settling | undefined {
  const plain = findPlainCollections(model)
  if (!memory.isStored || memory.memo.isKept || plain.size === 0) return undefined
  // Of plain collections nothing is computed.
  const settings = model.collections.map(({ derived: _, rules: __, source: ___, ...own }) => own)
  const scope = digestModel({ ...model, collections: settings }, { host, code })
  if (scope === undefined) return undefined
  const keys = new Map(
    assigned.map((found) => [found.collection.name, plain.has(found.collection.name) ? keyOf(found) : undefined]),
  )
  function keyOf({ collection: { name }, files }: CollectionFiles): string | undefined {
    const parts = [scope, name]
    for (const { path, named } of files) {
      const digest = memory.state.digestOf(`${model.content}/${path}`)
      if (digest === undefined) return undefined
      parts.push(path, String(named), digest)
    }
    return keyBeside(host.digest(parts.join('\n')), 'v')
  }
  const kept = new Map<string, EntriesView | undefined>()
  const viewOf = (name: string, read?: CheckedCollection): EntriesView | undefined => {
    const key = keys.get(name)
    if (!kept.has(name) && key !== undefined) kept.set(name, memory.store.get(key) as EntriesView | undefined)
    if (!kept.get(name) && read) kept.set(name, describeView(read, plain.get(name)?.compared ?? [], host.digest))
    return kept.get(name)
  }
  const cleanKeyOf = (name: string, read: ReadonlyMap<string, CheckedCollection>): string | undefined => {
    const key = keys.get(name)
    if (key === undefined) return undefined
    const seen = (plain.get(name)?.targets ?? []).map((other) => [other, viewOf(other, read.get(other))?.digest])
    return keyBeside(host.digest(JSON.stringify([key, ...seen])), 'x')
  }
  return {
    mayStand: ({ collection: { name } }) => keys.get(name) !== undefined && viewOf(name) !== undefined,
    settle(found, read) {
      const { name } = found.collection
      const key = cleanKeyOf(name, read)
      const view = viewOf(name)
      return view && key !== undefined && memory.store.get(key) !== undefined
        ? restoreView(view, found.collection)
        : undefined
    },
    keep(read, hasProblems) {
      const byName = new Map(read.map((one) => [one.collection.name, one]))
      for (const [name, one] of byName) {
        const key = keys.get(name)
        if (key === undefined || one.failedFiles.length > 0) continue
        if (memory.store.get(key) === undefined) memory.store.put(key, [JSON.stringify(viewOf(name, one))])
        const clean = hasProblems(name) ? undefined : cleanKeyOf(name, byName)
        if (clean !== undefined && memory.store.get(clean) === undefined) memory.store.put(clean, ['true'])
      }
    },
  }
}
