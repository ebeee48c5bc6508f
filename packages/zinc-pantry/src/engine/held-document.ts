import { createDocument, type ReadDocument } from '../read/document.ts'

/** The document that the places of the entries of a file are found in. */
export interface HeldDocument {
  documentOf(this: void): ReadDocument
  /** Lets go of it: it is read again where somebody asks for a place. */
  release(): void
  /** Takes another document for the same file, whose text was changed. */
  replace(document: ReadDocument): void
}

/** The documents that were read again last. */
export interface RecentDocuments {
  find(holder: object, read: () => ReadDocument): ReadDocument
  forget(holder: object): void
}

/**
 * Of more records in a file neither the text nor the values are kept: they are as large as the entries, the places of all are ten
 * times as large, and both are seldom asked for.
 */
export const MANY_RECORDS = 500

/** Large documents that are kept at once; whoever asks for places in more files does it file by file. */
const MOST_RECENT = 2

/** Makes a list of large documents, the most recent ones. */
export function createRecentDocuments(): RecentDocuments {
  const documents = new Map<object, ReadDocument>()
  return {
    find(holder, read) {
      const document = documents.get(holder) ?? read()
      documents.delete(holder)
      documents.set(holder, document)
      const [oldest] = documents.keys()
      if (documents.size > MOST_RECENT && oldest) documents.delete(oldest)
      return document
    },
    forget: (holder) => void documents.delete(holder),
  }
}

/** Holds a document, or reads it when it is first asked for. Nothing else of a check may be held with it. */
export function holdDocument(
  document: ReadDocument | undefined,
  readAgain: () => ReadDocument | undefined,
  recent: RecentDocuments,
): HeldDocument {
  const holder = {}
  const read = (): ReadDocument => readAgain() ?? createDocument({}, () => ({ span: [0, 0] }))
  let held = document
  let isReleased = false
  return {
    documentOf() {
      if (isReleased) return recent.find(holder, read)
      held ??= read()
      return held
    },
    release() {
      held = undefined
      isReleased = true
    },
    replace(another) {
      held = another
      isReleased = false
      recent.forget(holder)
    },
  }
}
