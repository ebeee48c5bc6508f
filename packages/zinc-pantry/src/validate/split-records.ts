import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { describeValue } from '../diagnostics/words.ts'
import type { PathSegment, ReadDocument } from '../read/document.ts'
import type { FileSettings } from '../schema/model.ts'
import { pointerSteps } from '../schema/pointer.ts'

/** One entry's value in a document. */
export interface EntryRecord {
  readonly value: unknown
  /** Where in the document; empty where the document is the entry. */
  readonly path: readonly PathSegment[]
  /** The key of a map of entries, which is the id. */
  readonly key?: string
}

/** Takes a document apart into the records of entries, one or many. */
export function splitRecords(
  document: ReadDocument,
  options: { file: string; collection: FileSettings; many: boolean },
): { records: EntryRecord[]; diagnostics: Diagnostic[] } {
  const { file, collection, many } = options
  const problem = (diagnostic: Diagnostic) => ({ records: [], diagnostics: [diagnostic] })
  if (!many) {
    if (!Array.isArray(document.value)) return { records: [{ value: document.value, path: [] }], diagnostics: [] }
    const span = document.locate([], 'key')
    return problem(createDiagnostic('entry-list-unexpected', { file, span }, { collection: collection.name }))
  }
  const path = pointerSteps(collection.records ?? '')
  const found = follow(document.value, path)
  if (found === undefined) {
    const span = document.locate([], 'key')
    return problem(createDiagnostic('entry-records-missing', { file, span }, { pointer: collection.records ?? '' }))
  }
  if (Array.isArray(found))
    return { records: found.map((value, position) => ({ value, path: pathBelow(path, position) })), diagnostics: [] }
  if (typeof found === 'object' && found !== null) {
    const keys = Object.keys(found).filter((key) => path.length > 0 || key !== '$schema')
    const group = found as Record<string, unknown>
    return { records: keys.map((key) => ({ value: group[key], path: pathBelow(path, key), key })), diagnostics: [] }
  }
  // An empty file holds no entries; that is no problem.
  if (found === null && path.length === 0) return { records: [], diagnostics: [] }
  const parameters = { seen: describeValue(found), collection: collection.name }
  const span = document.locate(path, 'value')
  return problem(createDiagnostic('entry-list-expected', { file, span }, parameters))
}

/** A path with one more step. Entries hold theirs: a list that is spread with something after it has room for 17 items. */
export const pathBelow = (path: readonly PathSegment[], step: PathSegment): readonly PathSegment[] =>
  path.length === 0 ? [step] : path.concat(step)

function follow(value: unknown, path: readonly string[]): unknown {
  let at: unknown = value
  for (const step of path) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, step)) return undefined
    at = (at as Record<string, unknown>)[step]
  }
  return at
}
