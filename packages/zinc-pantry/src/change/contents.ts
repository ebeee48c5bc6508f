import { groupBy } from '../diagnostics/group-by.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'
import { byteOrderMark } from '../read/decode.ts'
import type { Change, EditStep } from './change.ts'

/** The contents of files; undefined for those that are not there. */
export type Contents = ReadonlyMap<string, Uint8Array | undefined>

/** What the files that a change touches hold before and after it. */
export interface ChangedContents {
  readonly before: Contents
  readonly after: Contents
}

/**
 * Works out what files hold before and after a change; all others stay as they are. What another file becomes
 * is not there before it, whatever stands there now. A byte order mark stays where it was.
 */
export function contentsOf({ steps }: Change, read: (file: string) => Uint8Array | undefined): ChangedContents {
  const before = new Map([...new Set(steps.map(({ file }) => file))].map((file) => [file, read(file)]))
  const after = new Map(before)
  const edits = steps.filter((step) => step.kind === 'edit')
  for (const [file, own] of groupBy(edits, (edit) => edit.file)) {
    const bytes = before.get(file)
    after.set(file, bytes && editBytes(bytes, own))
  }
  for (const step of steps) if (step.kind === 'make') after.set(step.file, encoder.encode(step.text))
  const moves = steps.filter((step) => step.kind === 'move')
  const moved = moves.map(({ file, to }) => [to, after.get(file)] as const)
  for (const { kind, file } of steps) if (kind === 'move' || kind === 'delete') after.set(file, undefined)
  for (const [to, bytes] of moved) {
    if (!before.has(to)) before.set(to, undefined)
    after.set(to, bytes)
  }
  return { before, after }
}

/** Files that are not what a change was planned from any more; what has no text is moved as it is. */
export const findStale = (before: Contents, textOf: (file: string) => string | undefined): readonly string[] =>
  [...before].flatMap(([file, bytes]) => {
    const text = textOf(file)
    return text !== undefined && (bytes && new TextDecoder().decode(bytes)) !== text ? [file] : []
  })

const encoder = new TextEncoder()

function editBytes(bytes: Uint8Array, edits: readonly EditStep[]): Uint8Array {
  const ordered = edits.toSorted((a, b) => a.span[0] - b.span[0] || a.span[1] - b.span[1])
  const edited = replaceSpans(new TextDecoder().decode(bytes), ordered, ({ text }) => text)
  return encoder.encode(byteOrderMark(bytes) + edited)
}
