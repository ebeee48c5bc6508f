import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import { type BlockFields, type CheckRun, INVALID, type Step } from '../schema/field.ts'
import type { CollectionModel } from '../schema/model.ts'
import { pointerOf } from '../schema/pointer.ts'
import { slugOf, whySlugUnfit } from '../schema/slug.ts'
import type { Entry } from '../validate/entry.ts'

/** Makes the entries of a collection that references ask for. */
export interface EntryMaker {
  /** The entry for a text, made at its first use. */
  make(text: string, from: Entry, path: readonly Step[]): { made: Entry | undefined; problems: Diagnostic[] }
  /** All that were made, in the order of their ids. */
  all(): Entry[]
}

/** What checking a made entry takes. */
export interface EntryChecking {
  readonly blocks: BlockFields
  readonly matches: CheckRun['matches']
  /** True where references that lead nowhere are no errors. */
  readonly mayDangle: boolean
}

/** Makes entries with nothing but a text in one field; their id is made from the text. */
export function createEntryMaker(collection: CollectionModel, { blocks, matches }: EntryChecking): EntryMaker {
  const { named: check } = compileCollection(collection, blocks)
  const name = collection.createFrom ?? ''
  const made = new Map<string, Entry>()
  return {
    make(text, from, path) {
      const id = slugOf(text)
      const known = made.get(id)
      if (known) return { made: known, problems: [] }
      const place = from.locate(path)
      const problems: Diagnostic[] = []
      const run: CheckRun = {
        path: [],
        within: { private: 0 },
        hasLeadingZeros: false,
        report: (code, parameters) => problems.push(createDiagnostic(code, place, parameters)),
        written: String,
        matches,
        reference: ({ text: wanted }) => wanted,
        asset: (file) => ({ missing: file }),
        linked: () => undefined,
      }
      const data = check({ [name]: text }, run)
      const reason = whySlugUnfit(id)
      if (reason) problems.push(createDiagnostic('slug-invalid', place, { slug: id, reason }))
      if (data === INVALID || reason) return { made: undefined, problems }
      const entry: Entry = {
        id,
        slug: id,
        collection: collection.name,
        source: { file: from.source.file, pointer: pointerOf([...from.recordPath, ...path]), implicit: true },
        data: data as Entry['data'],
        body: undefined,
        properties: [],
        references: [],
        texts: [],
        assets: [],
        privateAssets: [],
        locale: undefined,
        rank: undefined,
        locate: () => place,
        recordPath: [],
        idPath: [],
        slugPath: [],
      }
      made.set(id, entry)
      return { made: entry, problems }
    },
    all: () => [...made.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
  }
}
