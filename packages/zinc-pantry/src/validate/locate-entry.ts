import type { Span } from '../diagnostics/diagnostic.ts'
import type { PathSegment, PlacePart, ReadDocument } from '../read/document.ts'
import type { EntryBody } from './entry.ts'
import { locateInBody } from './validate-blocks.ts'

/** Gives the place of a part of an entry in its file. */
export type EntryLocator = (path: readonly PathSegment[], part: PlacePart) => Span

/** Makes a locator of the entry at a path of a document. */
export const createEntryLocator =
  (document: () => ReadDocument, recordPath: readonly PathSegment[], body: EntryBody | undefined): EntryLocator =>
  (path, part) =>
    locateInBody(body, path, part) ?? document().locate(recordPath.length === 0 ? path : [...recordPath, ...path], part)

/** The part that stands for a path: what names the entry, or the value. */
export const partOf = (path: readonly PathSegment[]): 'key' | 'value' => (path.length === 0 ? 'key' : 'value')
