import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type CheckRun, createDetachedRun, INVALID, type Step } from '../schema/check-run.ts'
import { compileCollection } from '../schema/compile-schema.ts'
import type { BlockFields } from '../schema/kind.ts'
import type { CollectionModel } from '../schema/model.ts'
import { pointerOf } from '../schema/pointer.ts'
import { slugOf, whySlugUnfit } from '../schema/slug.ts'
import { createEntry } from '../validate/create-entry.ts'
import type { Entry } from '../validate/entry.ts'

/** Makes the implicit entries of a collection: those that references create. */
export interface EntryMaker {
  /** The id of the entry that a text creates; undefined where it creates none, since the id or the value is not fit. */
  idOf(text: string): string | undefined
  /** The entry that a reference creates, or why it creates none. */
  make(text: string, from: Entry, path: readonly Step[]): { made: Entry | undefined; problems: Diagnostic[] }
}

/** The surroundings of the check of a created entry. */
export interface EntryChecking {
  readonly blocks: BlockFields
  readonly matches: CheckRun['matches']
}

/** Makes entries with nothing but a text in one field; their id is made from the text. */
export function createEntryMaker(collection: CollectionModel, { blocks, matches }: EntryChecking): EntryMaker {
  const { named: check } = compileCollection(collection, blocks)
  const name = collection.createFrom ?? ''
  const ids = new Map<string, string | undefined>()
  const checkText = (text: string, report: CheckRun['report']): unknown =>
    check({ [name]: text }, createDetachedRun({ report, matches }))
  return {
    idOf(text) {
      if (ids.has(text)) return ids.get(text)
      const slug = slugOf(text)
      const isFit = whySlugUnfit(slug) === undefined && checkText(text, () => undefined) !== INVALID
      const id = isFit ? slug : undefined
      ids.set(text, id)
      return id
    },
    make(text, from, path) {
      const id = slugOf(text)
      const place = from.locate(path)
      const problems: Diagnostic[] = []
      const data = checkText(text, (code, parameters) => problems.push(createDiagnostic(code, place, parameters)))
      const reason = whySlugUnfit(id)
      if (reason) problems.push(createDiagnostic('slug-invalid', place, { slug: id, reason }))
      if (data === INVALID || reason) return { made: undefined, problems }
      const made = createEntry({
        id,
        slug: id,
        collection: collection.name,
        source: { file: from.source.file, pointer: pointerOf([...from.recordPath, ...path]), implicit: true },
        data: data as Entry['data'],
        body: undefined,
        locale: undefined,
        rank: undefined,
        locate: () => place,
        recordPath: [],
        idPath: [],
        slugPath: [],
      })
      return { made, problems }
    },
  }
}
