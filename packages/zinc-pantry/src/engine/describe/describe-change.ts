import { structuredPatch } from 'diff'
import type { ChangeStep } from '../../change/change.ts'
import { openSource } from '../../change/source.ts'
import { type Diagnostic, hasErrors } from '../../diagnostics/diagnostic.ts'
import { createLineIndexes } from '../../diagnostics/render-text.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import type { ChangeReport } from '../change-request.ts'
import { readOptionsOf } from '../check-file.ts'
import { describeProblems, type ProblemView } from './describe-problems.ts'
import type { RecordProblem } from './describe-record.ts'
import { createPathFinder } from './find-path.ts'
import type { SiteView } from './site-view.ts'

/** What a change does with a file. */
export interface ChangedFile {
  readonly file: string
  readonly kind: 'changed' | 'made' | 'moved' | 'deleted'
  /** Where it was, of one that is moved. */
  readonly from?: string
  /** The lines that differ, with some around them; undefined for what is no text, or differs everywhere. */
  readonly hunks?: readonly DiffHunk[]
}

/** Lines of a file that differ: each begins with a space, `-` or `+`. */
export interface DiffHunk {
  readonly oldStart: number
  readonly newStart: number
  readonly lines: readonly string[]
}

/** A change for people: what it does, what would be wrong after it, and whether it was made. */
export interface ChangeView {
  readonly words: string
  readonly steps: readonly { readonly file: string; readonly line?: number; readonly words: string }[]
  readonly files: readonly ChangedFile[]
  /** Places that a person must look at. */
  readonly attention: readonly { readonly file: string; readonly line: number; readonly words: string }[]
  /** Problems that it makes, and those of values that are still to be filled in. */
  readonly problems: readonly ProblemView[]
  readonly unfilled: readonly ProblemView[]
  /** Files that somebody else changed in the meantime. */
  readonly changed: readonly string[]
  /** All problems of the entry that is written, as it would be. */
  readonly own?: readonly RecordProblem[]
  readonly isWritten: boolean
  /** True where it is not written by itself, since it makes errors. */
  readonly isHeld: boolean
}

/** Edits beyond so many are a file that differs everywhere. */
const MOST_EDITS = 2_000
const AROUND = 2

/** Describes a change that was made, or would be. */
export function describeChange(report: ChangeReport, view: SiteView): ChangeView {
  const { change, problems, unfilled, changed, isWritten, textOf } = report
  const indexOf = createLineIndexes(textOf)
  const lineOf = (file: string, offset: number): number => indexOf(file).at(offset).line
  return {
    words: change.words,
    steps: change.steps.map((step) => ({
      file: step.file,
      ...(step.kind === 'edit' ? { line: lineOf(step.file, step.span[0]) } : {}),
      words: wordsOf(step),
    })),
    files: describeFiles(report),
    attention: change.attention.map(({ place, words }) => {
      return { file: place.file, line: lineOf(place.file, place.span[0]), words }
    }),
    problems: describeProblems(problems.diagnostics, { textOf: problems.textOf, view }),
    unfilled: describeProblems(unfilled, { textOf: problems.textOf, view }),
    ...{ changed, isWritten },
    isHeld: hasErrors(problems.diagnostics),
  }
}

/** Describes the problems of an entry as a change would leave it, at the values that they are of. */
export function describeWritten(
  { outcome, problems: { textOf } }: ChangeReport,
  view: SiteView,
  {
    file,
    collection: name,
    recordPath,
  }: { readonly file: string; readonly collection: string; readonly recordPath: LinkedEntry['recordPath'] },
): readonly RecordProblem[] {
  const collection = view.collectionOf(name)
  const own = outcome.diagnostics.filter((one) => one.file === file)
  if (own.length === 0 || !collection) return []
  const source = openSource({ textOf: outcome.textOf, model: view.model }, file, { collection, readOptionsOf })
  const pathOf = source && createPathFinder(source.document, recordPath)
  const [start, end] = source ? source.document.locate(recordPath, 'value') : [0, 0]
  const isWithin = ({ span }: Diagnostic): boolean => recordPath.length === 0 || (span[0] >= start && span[0] <= end)
  const within = own.filter(isWithin)
  return describeProblems(within, { textOf, view: undefined }).map((one, at) => {
    const path = within[at] && pathOf?.(within[at])
    return path ? { ...one, path } : one
  })
}

function wordsOf(step: ChangeStep): string {
  if (step.kind === 'move') return `becomes ${step.to}`
  return step.kind === 'delete' ? 'is deleted' : step.kind === 'make' ? 'is made' : step.reason
}

function describeFiles({ before, after, change }: ChangeReport): readonly ChangedFile[] {
  const moves = new Map(change.steps.flatMap((step) => (step.kind === 'move' ? [[step.to, step.file] as const] : [])))
  const gone = new Set(moves.values())
  return [...after].flatMap(([file, bytes]): ChangedFile[] => {
    if (gone.has(file) && !moves.has(file)) return []
    const from = moves.get(file)
    const old = before.get(from ?? file)
    const kind = from !== undefined ? 'moved' : !old ? 'made' : !bytes ? 'deleted' : 'changed'
    const hunks = diffOf(old, bytes)
    return [{ file, kind, ...(from === undefined ? {} : { from }), ...(hunks ? { hunks } : {}) }]
  })
}

function diffOf(old: Uint8Array | undefined, fresh: Uint8Array | undefined): readonly DiffHunk[] | undefined {
  if (old?.includes(0) || fresh?.includes(0)) return undefined
  const [one, other] = [old, fresh].map((bytes) => (bytes ? new TextDecoder().decode(bytes) : '')) as [string, string]
  const patch = structuredPatch('', '', one, other, '', '', { context: AROUND, maxEditLength: MOST_EDITS })
  return patch?.hunks.map(({ oldStart, newStart, lines }) => ({ oldStart, newStart, lines }))
}
