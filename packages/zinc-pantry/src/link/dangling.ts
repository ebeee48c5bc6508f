import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { createSuggester } from '../diagnostics/suggest.ts'
import type { Entry, Reference } from '../validate/entry.ts'
import { type FailedFile, indexFailedFiles } from './failed-files.ts'
import { lastName } from './resolve-path.ts'
import type { Targets } from './targets.ts'

/** A target this small is listed whole where nothing is near. */
const LISTED = 8

/** Describes references that lead nowhere; one into a file that could not be read is no mistake of its own. */
export function createDanglingReporter(
  collections: readonly {
    readonly collection: { readonly name: string }
    readonly failedFiles: readonly FailedFile[]
  }[],
  targets: ReadonlyMap<string, Targets>,
): (entry: Entry, reference: Reference) => Diagnostic {
  const failed = new Map(
    collections.map(({ collection, failedFiles }) => [collection.name, indexFailedFiles(failedFiles)]),
  )
  const suggest = createSuggester()
  /**
   * Keys by their last segments: an entry of that name in another folder was most likely moved, or the reference was.
   */
  const ends = new Map<string, ReadonlyMap<string, readonly string[]>>()
  const sameEnd = (kind: string, text: string, words: () => readonly string[]): string | undefined => {
    const known = ends.get(kind) ?? groupBy(words(), lastName)
    ends.set(kind, known)
    const [only, ...others] = known.get(lastName(text)) ?? []
    return others.length === 0 ? only : undefined
  }
  return (entry, { targets: names, by, text, path }) => {
    const place = entry.locate(path)
    const field = path.filter((step) => typeof step === 'string').join('.')
    const collection = names.join(' or ')
    const files = names.flatMap((name) => failed.get(name) ?? [])
    const culprits =
      by === 'id'
        ? [...files.map((one) => one.withId(text)), ...files.map(({ open }) => open)]
        : files.map(({ first }) => first)
    const culprit = culprits.find((one) => one !== undefined)
    if (culprit) {
      const related: RelatedPlace[] = [{ file: culprit.file, span: [0, 0], note: 'failed-target' }]
      return createDiagnostic('ref-target-failed', place, { id: text, collection }, { related, field })
    }
    const keysOf = (name: string): ReadonlyMap<string, string> => targets.get(name)?.keys(by) ?? new Map()
    const size = names.reduce((sum, name) => sum + keysOf(name).size, 0)
    const words = (): string[] => [...new Set(names.flatMap((name) => [...keysOf(name).keys()]))]
    const suggestion =
      sameEnd(`${collection}.${by}`, text, words) ?? suggest(`${collection}.${by}`, text, { size, words })
    const known = size <= LISTED ? words() : undefined
    return createDiagnostic('ref-dangling', place, { id: text, collection, suggestion, known }, { field })
  }
}
