import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Entry, Reference } from '../validate/entry.ts'
import type { Targets } from './targets.ts'

/** A file that could not be read. */
export interface FailedFile {
  readonly file: string
  /** The id of its one entry, or undefined where only its text can tell the ids. */
  readonly id: string | undefined
}

/** A target this small is listed whole where nothing is near. */
const LISTED = 8

/** After so many comparisons of ids no more are suggested: in a wholly broken site they would take minutes. */
const MAX_COMPARISONS = 3_000_000

/** Suggests ids, each wrong one once. */
function createSuggester(): (scope: string, text: string, known: ReadonlyMap<string, unknown>) => string | undefined {
  const found = new Map<string, string | undefined>()
  let comparisons = 0
  return (scope, text, known) => {
    const key = `${scope}\n${text}`
    if (found.has(key) || comparisons > MAX_COMPARISONS) return found.get(key)
    comparisons += known.size
    const suggestion = suggestNearest(text, known.keys())
    found.set(key, suggestion)
    return suggestion
  }
}

/** Describes references that lead nowhere; one into a file that could not be read is no mistake of its own. */
export function createDanglingReporter(
  collections: readonly {
    readonly collection: { readonly name: string }
    readonly failedFiles: readonly FailedFile[]
  }[],
  targets: ReadonlyMap<string, Targets>,
): (entry: Entry, reference: Reference) => Diagnostic {
  const failed = new Map(collections.map(({ collection, failedFiles }) => [collection.name, failedFiles]))
  const suggest = createSuggester()
  return (entry, { targets: names, by, text, path }) => {
    const place = entry.locate(path)
    const collection = names.join(' or ')
    const files = names.flatMap((name) => failed.get(name) ?? [])
    const culprit =
      files.find(({ id }) => id === text && by === 'id') ?? files.find(({ id }) => id === undefined || by !== 'id')
    if (culprit) {
      const related: RelatedPlace[] = [{ file: culprit.file, span: [0, 0], note: 'failed-target' }]
      return createDiagnostic('ref-target-failed', place, { id: text, collection }, { related })
    }
    const keys = new Map(names.flatMap((name) => [...(targets.get(name)?.keys(by) ?? [])]))
    const suggestion = suggest(`${collection}.${by}`, text, keys)
    const known = keys.size <= LISTED ? [...keys.keys()] : undefined
    return createDiagnostic('ref-dangling', place, { id: text, collection, suggestion, known })
  }
}
