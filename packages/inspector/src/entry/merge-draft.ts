import type { RecordView } from 'zinc-pantry/inspect'
import { type Group, isSame } from '../form/record.ts'
import type { Draft } from './use-draft.ts'

/** A value that two people have changed. */
export interface Conflict {
  readonly key: string
  readonly theirs: unknown
  readonly yours: unknown
}

/** What was typed and what the file has by now, brought together. */
export interface Merged {
  /** With what was typed where both differ. */
  readonly typed: Pick<Draft, 'record' | 'body'>
  readonly conflicts: readonly Conflict[]
}

/** Brings a draft and the present state of its file together: what only one of them changed is taken from there. */
export function mergeDraft({ record, body, base }: Draft, now: RecordView): Merged {
  const conflicts: Conflict[] = []
  const merged: Record<string, unknown> = {}
  const theirs: Group = now.written
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(record), ...Object.keys(base.record)])) {
    const isYours = !isSame(record[key], base.record[key])
    const isTheirs = !isSame(theirs[key], base.record[key])
    if (isYours && isTheirs && !isSame(record[key], theirs[key]))
      conflicts.push({ key, theirs: theirs[key], yours: record[key] })
    const value = isYours ? record[key] : theirs[key]
    if (value !== undefined) merged[key] = value
  }
  const isBodyYours = body !== base.body
  const isBodyTheirs = now.body?.text !== base.body
  if (isBodyYours && isBodyTheirs && body !== now.body?.text)
    conflicts.push({ key: 'body', theirs: now.body?.text, yours: body })
  return { typed: { record: merged, body: isBodyYours ? body : now.body?.text }, conflicts }
}
