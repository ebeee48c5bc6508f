import type { Span } from '../diagnostics/diagnostic.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment, ReadDocument } from '../read/document.ts'
import type { ReportedPart } from '../schema/check-run.ts'
import { KEYS_STEP } from '../values/steps.ts'
import type { Entry } from './entry.ts'
import { locateInBody } from './validate-blocks.ts'
import type { WrittenPaths } from './written-paths.ts'

/** Gives the place of a part of an entry in its file. */
export type EntryLocator = (path: readonly PathSegment[], part: ReportedPart) => Span

/** Where an entry stands, and how what it has is written. */
interface EntryPlacing extends Pick<Entry, 'recordPath' | 'body'> {
  readonly written: WrittenPaths
}

/** Makes a locator of the entry at a path of a document. */
export const createEntryLocator =
  (document: () => ReadDocument, { recordPath, body, written }: EntryPlacing): EntryLocator =>
  (asked, asPart) => {
    // The key of a map stands in front of its value.
    const isKey = asked.at(-1) === KEYS_STEP
    const [path, part] = isKey ? [asked.slice(0, -1), 'key' as const] : [asked, asPart]
    const place = part === 'unknown-key' ? 'key' : part
    const inBody = locateInBody(body, path, { part: place, written })
    if (inBody) return inBody
    const read = document()
    if (!written.entry) return read.locate(recordPath.length === 0 ? path : [...recordPath, ...path], place)
    // A key that is no field's may have the name of one that is read from another key.
    const [known, rest] = part === 'unknown-key' ? [path.slice(0, -1), path.slice(-1)] : [path, []]
    const own = written.entry(known, valueAt(read.value, recordPath))
    return read.locate([...recordPath, ...own, ...rest], place)
  }

/**
 * Makes what finds the places of the entries of a file: one function that all of them have, and that holds on to nothing of a
 * validation. One for each was measured at a tenth of the memory of a site of many entries.
 */
export const createPlaceFinder = (file: string, document: () => ReadDocument, written: WrittenPaths): Entry['locate'] =>
  function locate(this: Pick<Entry, 'recordPath' | 'body'>, path) {
    const { recordPath, body } = this
    return { file, span: createEntryLocator(document, { recordPath, body, written })(path, partOf(path)) }
  }

/** The part that stands for a path: what names the entry, or the value. */
export const partOf = (path: readonly PathSegment[]): 'key' | 'value' => (path.length === 0 ? 'key' : 'value')
