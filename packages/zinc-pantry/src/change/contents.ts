import { groupBy } from '../diagnostics/group-by.ts'
import { replaceSpans } from '../diagnostics/replace-spans.ts'
import type { Change, EditStep } from './change.ts'

/** The contents of files after a change; undefined for those that are not there any more. */
export type Contents = ReadonlyMap<string, Uint8Array | undefined>

/** Works out what files hold after a change; all others stay as they are. A byte order mark stays where it was. */
export function contentsAfter({ steps }: Change, read: (file: string) => Uint8Array): Contents {
  const contents = new Map<string, Uint8Array | undefined>()
  const edits = groupBy(
    steps.flatMap((step) => (step.kind === 'edit' ? [step] : [])),
    ({ file }) => file,
  )
  for (const [file, own] of edits) contents.set(file, editBytes(read(file), own))
  for (const step of steps) {
    if (step.kind === 'make') contents.set(step.file, encoder.encode(step.text))
    if (step.kind === 'delete') contents.set(step.file, undefined)
  }
  const moves = steps.flatMap((step) => (step.kind === 'move' ? [step] : []))
  const moved = moves.map(({ file, to }) => [to, contents.get(file) ?? read(file)] as const)
  for (const { file } of moves) contents.set(file, undefined)
  for (const [to, bytes] of moved) contents.set(to, bytes)
  return contents
}

const encoder = new TextEncoder()
const MARK = Uint8Array.of(0xef, 0xbb, 0xbf)

function editBytes(bytes: Uint8Array, edits: readonly EditStep[]): Uint8Array {
  const hasMark = MARK.every((byte, at) => bytes[at] === byte)
  const text = new TextDecoder().decode(bytes)
  const ordered = edits.toSorted((a, b) => a.span[0] - b.span[0] || a.span[1] - b.span[1])
  const edited = encoder.encode(replaceSpans(text, ordered, ({ text: replacement }) => replacement))
  return hasMark ? Uint8Array.of(...MARK, ...edited) : edited
}
