import { isGroup, setOwn, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { canonical, cellOf, haveSameComments, proposeEdit } from './edit-value.ts'
import { type EditedSource, inOrder, type TextEdit, withEdits } from './edited-source.ts'

/** A value that is to be another one, or to go where it is undefined. */
export interface ValueChange {
  readonly path: readonly PathSegment[]
  readonly value: unknown
  /** The order of the keys of a group by its path, for a key that is not there yet. Default: it comes last. */
  readonly orderOf?: ((path: readonly PathSegment[]) => readonly string[] | undefined) | undefined
}

/** The edits for some values of a text; in one text they may be fewer than the values. */
export interface ValueEdits {
  /** Each with the change that it is for; the first of several. */
  readonly edits: readonly { readonly edit: TextEdit; readonly at: number }[]
  /** Positions of the changes that a person has to make. */
  readonly failed: readonly number[]
}

/**
 * The edits of a text that give some values, proved together by one more reading: with them the text reads as before but for those
 * values. Where they do not fit together, halves of them are made one after the other, down to those that a person has to make.
 */
export function editValues(
  source: EditedSource,
  changes: readonly ValueChange[],
  {
    isWhole = false,
  }: { /** Comments in a value that goes may go with it. Default: false. */ readonly isWhole?: boolean } = {},
): ValueEdits {
  const joined = joinAbsent(source.document.value, changes)
  const edits = proveTogether(source, joined, isWhole)
  if (edits) return { edits: edits.map((edit, at) => ({ edit, at: joined[at]?.positions[0] ?? 0 })), failed: [] }
  const failed: number[] = []
  const { text } = editInTurn(source, joined, { start: 0, failed, isWhole })
  const first = joined.find((_, at) => !failed.includes(at))?.positions[0] ?? 0
  return {
    edits: text === source.text ? [] : [{ edit: difference(source.text, text), at: first }],
    failed: failed.flatMap((at) => joined[at]?.positions ?? []),
  }
}

/** A change that stands for some of those that were asked for, by their positions. */
interface JoinedChange extends ValueChange {
  readonly positions: number[]
}

/** Values of one group that is not there yet come as one: the group. */
function joinAbsent(document: unknown, changes: readonly ValueChange[]): readonly JoinedChange[] {
  const joined = new Map<string, JoinedChange & { value: unknown }>()
  for (const [at, { path, value, orderOf }] of changes.entries()) {
    const depth = path.findIndex((_, step) => (valueAt(document, path.slice(0, step + 1)) ?? undefined) === undefined)
    const isInAbsent = value !== undefined && depth !== -1 && depth < path.length - 1
    const own = isInAbsent ? path.slice(0, depth + 1) : path
    const key = isInAbsent ? JSON.stringify(own) : `${at}`
    const known = joined.get(key)
    if (known) known.positions.push(at)
    else joined.set(key, { path: own, value: isInAbsent ? {} : value, orderOf, positions: [at] })
    if (isInAbsent) setAt(joined.get(key)?.value, path.slice(depth + 1), value)
  }
  return [...joined.values()]
}

/** The edits for some values, where they are right together. */
function proveTogether(
  source: EditedSource,
  changes: readonly ValueChange[],
  isWhole: boolean,
): readonly TextEdit[] | undefined {
  const proposed = changes.map(({ path, value, orderOf }) =>
    proposeEdit(source, path, value, orderOf?.(path.slice(0, -1))),
  )
  const edits = proposed.flatMap((edit) => edit ?? [])
  return edits.length === changes.length && isRight(source, changes, { edits, isWhole }) ? edits : undefined
}

/** Makes some changes in halves, each in the text that the last one left. */
function editInTurn(
  source: EditedSource,
  changes: readonly ValueChange[],
  { start, failed, isWhole }: { readonly start: number; readonly failed: number[]; readonly isWhole: boolean },
): EditedSource {
  const edits = proveTogether(source, changes, isWhole)
  if (edits) return withEdits(source, edits) ?? source
  if (changes.length === 1) {
    failed.push(start)
    return source
  }
  const half = Math.ceil(changes.length / 2)
  const left = editInTurn(source, changes.slice(0, half), { start, failed, isWhole })
  return editInTurn(left, changes.slice(half), { start: start + half, failed, isWhole })
}

function isRight(
  source: EditedSource,
  changes: readonly ValueChange[],
  { edits, isWhole }: { readonly edits: readonly TextEdit[]; readonly isWhole: boolean },
): boolean {
  const ordered = inOrder(edits)
  const isApart = ordered.every(({ span }, at) => at === 0 || span[0] >= (ordered[at - 1]?.span[1] ?? 0))
  const after = isApart ? withEdits(source, ordered) : undefined
  if (!after || !(isWhole || haveSameComments(source, after.text))) return false
  const { format, document } = source
  const wanted = structuredClone(document.value)
  for (const [at, { path, value }] of changes.entries()) {
    const cell = format.hasCells ? cellOf(value, edits[at]?.text ?? '') : value
    if (!setAt(wanted, path, cell)) return false
  }
  return canonical(after.document.value) === canonical(wanted)
}

/** Gives a value at a path of a copy, in groups that are made where they are not there; false where that cannot be. */
function setAt(value: unknown, [step, ...rest]: readonly PathSegment[], wanted: unknown): boolean {
  if (step === undefined || typeof value !== 'object' || value === null) return false
  if (rest.length === 0) {
    if (!isGroup(value)) return false
    if (wanted === undefined) delete value[step]
    else setOwn(value, String(step), wanted)
    return true
  }
  const holder = value as Record<PathSegment, unknown>
  if (holder[step] === undefined || holder[step] === null) {
    if (!isGroup(value) || wanted === undefined) return false
    setOwn(value, String(step), {})
  }
  return setAt(holder[step], rest, wanted)
}

/** The edit between two texts, without what they begin and end with alike. */
export function difference(before: string, after: string): TextEdit {
  const most = Math.min(before.length, after.length)
  let start = 0
  while (start < most && before[start] === after[start]) start++
  let end = 0
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++
  return { span: [start, before.length - end], text: after.slice(start, after.length - end) }
}
