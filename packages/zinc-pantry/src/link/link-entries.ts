import { createDiagnostic, type Diagnostic, type RelatedPlace } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { Entry, Reference } from '../validate/entry.ts'

/** The entries of one collection, in order, and the files that gave none because they could not be read. */
export interface CollectionEntries {
  readonly name: string
  readonly entries: readonly Entry[]
  readonly failedFiles: readonly FailedFile[]
}

/** A file that could not be read. */
export interface FailedFile {
  readonly file: string
  /** The id of its one entry, or undefined where only its text can tell the ids. */
  readonly id: string | undefined
}

/** Checks what entries say of each other: ids and slugs are unique, references lead somewhere. */
export function linkEntries(collections: readonly CollectionEntries[]): Diagnostic[] {
  const diagnostics: Diagnostic[] = []
  const ids = new Map<string, Map<string, Entry>>()
  for (const collection of collections) {
    ids.set(collection.name, indexUnique(collection, diagnostics))
    checkSlugs(collection, diagnostics)
  }
  const suggest = createSuggester()
  const failed = new Map(collections.map(({ name, failedFiles }) => [name, failedFiles]))
  for (const { entries } of collections)
    for (const entry of entries)
      for (const reference of entry.references) {
        const targets = ids.get(reference.target)
        if (!targets || targets.has(reference.id)) continue
        diagnostics.push(
          describeDangling(entry, reference, { targets, suggest, failed: failed.get(reference.target) ?? [] }),
        )
      }
  return diagnostics
}

const firstUse = (entry: Entry, path: Entry['idPath']): RelatedPlace => ({ ...entry.locate(path), note: 'first-used' })

function indexUnique({ name, entries }: CollectionEntries, diagnostics: Diagnostic[]): Map<string, Entry> {
  const byId = new Map<string, Entry>()
  for (const entry of entries) {
    const first = byId.get(entry.id)
    if (!first) {
      byId.set(entry.id, entry)
      continue
    }
    const related = [firstUse(first, first.idPath)]
    const place = entry.locate(entry.idPath)
    diagnostics.push(createDiagnostic('id-duplicate', place, { id: entry.id, collection: name }, { related }))
  }
  return byId
}

function checkSlugs({ entries }: CollectionEntries, diagnostics: Diagnostic[]): void {
  const bySlug = new Map<string, Entry>()
  for (const entry of entries) {
    const first = bySlug.get(entry.slug)
    if (!first) {
      bySlug.set(entry.slug, entry)
      continue
    }
    // Two entries with one id have one slug too; that is told already.
    if (first.id === entry.id) continue
    const parameters = { slug: entry.slug, id: entry.id, otherId: first.id }
    const related = [firstUse(first, first.slugPath)]
    diagnostics.push(createDiagnostic('slug-duplicate', entry.locate(entry.slugPath), parameters, { related }))
  }
}

/** A target this small is listed whole where nothing is near. */
const LISTED = 8

/** After so many comparisons of ids no more are suggested: in a wholly broken site they would take minutes. */
const MAX_COMPARISONS = 3_000_000

/** Suggests ids, each wrong one once. */
function createSuggester(): (target: string, id: string, known: ReadonlyMap<string, unknown>) => string | undefined {
  const found = new Map<string, string | undefined>()
  let comparisons = 0
  return (target, id, known) => {
    const key = `${target}\n${id}`
    if (found.has(key) || comparisons > MAX_COMPARISONS) return found.get(key)
    comparisons += known.size
    const suggestion = suggestNearest(id, known.keys())
    found.set(key, suggestion)
    return suggestion
  }
}

interface Known {
  readonly targets: ReadonlyMap<string, Entry>
  readonly failed: readonly FailedFile[]
  readonly suggest: ReturnType<typeof createSuggester>
}

function describeDangling(
  entry: Entry,
  { target, id, path }: Reference,
  { targets, failed, suggest }: Known,
): Diagnostic {
  const place = entry.locate(path)
  const culprit = failed.find((file) => file.id === id) ?? failed.find((file) => file.id === undefined)
  if (culprit) {
    const related: RelatedPlace[] = [{ file: culprit.file, span: [0, 0], note: 'failed-target' }]
    return createDiagnostic('ref-target-failed', place, { id, collection: target }, { related })
  }
  const suggestion = suggest(target, id, targets)
  const known = targets.size <= LISTED ? [...targets.keys()] : undefined
  return createDiagnostic('ref-dangling', place, { id, collection: target, suggestion, known })
}
