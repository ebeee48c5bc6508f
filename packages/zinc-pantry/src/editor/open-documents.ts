import { createTextPositions, type PositionEncoding, type ProtocolRange, type TextPositions } from './text-positions.ts'

/** A document that is open in an editor. */
export interface OpenDocument {
  readonly version: number
  readonly text: string
  readonly positions: TextPositions
}

/** A change of a text: of a range of it, or all of it. */
export interface TextChange {
  readonly range?: ProtocolRange
  readonly text: string
}

/** The documents that are open, by their addresses. */
export interface OpenDocuments {
  open(uri: string, version: number, text: string): void
  /** Makes changes one after another. */
  change(uri: string, version: number, changes: readonly TextChange[]): void
  close(uri: string): void
  get(uri: string): OpenDocument | undefined
}

/** Makes a store of the documents that are open. */
export function createOpenDocuments(encoding: () => PositionEncoding): OpenDocuments {
  const documents = new Map<string, OpenDocument>()
  const put = (uri: string, version: number, text: string): void =>
    void documents.set(uri, { version, text, positions: createTextPositions(text, encoding()) })
  return {
    open: put,
    change(uri, version, changes) {
      for (const { range, text } of changes) {
        const known = documents.get(uri)
        if (!known || !range) put(uri, version, text)
        else {
          const [start, end] = [known.positions.offsetAt(range.start), known.positions.offsetAt(range.end)]
          put(uri, version, known.text.slice(0, start) + text + known.text.slice(end))
        }
      }
    },
    close: (uri) => void documents.delete(uri),
    get: (uri) => documents.get(uri),
  }
}
