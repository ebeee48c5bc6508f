import type { Diagnostic, Edit, Place } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import { byteOrderMark } from '../read/decode.ts'
import { applyEdits, keepEdits, withoutOverlap } from './apply-edits.ts'
import { applyContents } from './change-journal.ts'
import { overlayHost } from './overlay-host.ts'
import { checkSite } from './site.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A change of one line or a few, as it was or would be made. */
export interface MadeChange {
  /** Relative to the site's root. */
  readonly file: string
  /** From 1. */
  readonly line: number
  readonly before: string
  readonly after: string
}

/** A {@link SiteReport} of what is left after the changes. */
export interface FixReport extends SiteReport {
  readonly changes: readonly MadeChange[]
  /** Files that somebody else changed in the meantime, so that nothing was written. */
  readonly changed: readonly string[]
}

/** One mend can uncover the next problem of a file, but hardly more often. */
const MAX_ROUNDS = 50

/**
 * Mends what can be mended safely: misspelt keys, quotes, dates in other forms. Comments and layout stay as
 * they are. With `dryRun` nothing is written and the report is of the content as it is.
 *
 * Diagnostics: all of `checkSite`.
 *
 * @example
 * ```ts
 * import { createNodeHost, fixSite } from 'zinc-pantry/engine'
 *
 * const { changes } = await fixSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts', dryRun: true })
 * for (const { file, line, after } of changes) console.log(file, line, after)
 * ```
 */
export async function fixSite({ dryRun = false, ...options }: SiteOptions & { dryRun?: boolean }): Promise<FixReport> {
  const { host } = options
  const changes: MadeChange[] = []
  const [before, after] = [new Map<string, Uint8Array>(), new Map<string, Uint8Array>()]
  const first = await checkSite(options)
  let report: SiteReport = first
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const overlaid = { ...options, host: overlayHost(host, after), cache: false }
    const edits = await findHarmless(overlaid, report)
    report = { ...report, diagnostics: keepEdits(report.diagnostics, new Set(edits)) }
    if (edits.length === 0) break
    for (const [file, own] of groupByFile(edits)) {
      const edits = withoutOverlap(own)
      const text = report.textOf(file) ?? ''
      const bytes = after.get(file) ?? host.read(file)
      if (!before.has(file)) before.set(file, encoded(byteOrderMark(bytes) + text))
      after.set(file, encoded(byteOrderMark(bytes) + applyEdits(text, edits)))
      changes.push(...describeEdits(text, edits).map((line) => ({ file, ...line })))
    }
    if (dryRun) break
    report = await checkSite({ ...options, host: overlayHost(host, after), cache: false })
  }
  if (dryRun || changes.length === 0) return { ...report, changes, changed: [] }
  const applied = await applyContents(host, {
    words: `${plural(changes.length, 'mend')} of check --fix`,
    before,
    after,
  })
  return 'changed' in applied
    ? { ...first, changes: [], changed: applied.changed }
    : { ...report, changes, changed: [] }
}

const encoder = new TextEncoder()
const encoded = (text: string): Uint8Array => encoder.encode(text)

/** Edits that are made and found wrong are left out so often before none is made. */
const MAX_TRIALS = 8

/** Of the edits that a report proposes those after which no problem is there that was not there before. */
async function findHarmless(options: SiteOptions, report: SiteReport): Promise<readonly Edit[]> {
  const { host } = options
  let edits: readonly Edit[] = report.diagnostics.flatMap(({ edit }) => edit ?? [])
  const lineOf = createLineFinder(report)
  const known = new Set(report.diagnostics.map((one) => diagnosticKey(one, lineOf)))
  // What could not be read shows more once it can.
  const broken = new Set(report.diagnostics.flatMap(({ code, file }) => (SYNTAX.test(code) ? [file] : [])))
  for (let trial = 0; trial < MAX_TRIALS && edits.length > 0; trial++) {
    const changed = new Map(
      [...groupByFile(edits)].map(([file, own]) => [file, applyEdits(report.textOf(file) ?? '', withoutOverlap(own))]),
    )
    const contents = new Map([...changed].map(([file, text]) => [file, encoded(text)]))
    const tried = await checkSite({ ...options, host: overlayHost(host, contents), cache: false })
    const triedLineOf = createLineFinder(tried)
    const fresh = tried.diagnostics.filter(
      (one) => !broken.has(one.file) && !known.has(diagnosticKey(one, triedLineOf)),
    )
    const blamed = new Set(fresh.map((one) => `${one.file} ${triedLineOf(one)}`))
    const left = edits.filter((edit) => !blamed.has(`${edit.file} ${lineOf(edit)}`))
    if (left.length === edits.length) return fresh.some(({ file }) => changed.has(file)) ? [] : edits
    edits = left
  }
  return []
}

const SYNTAX = /^(?:yaml-(?!word)|(?:json|toml|csv|front-matter)-)/

/** Edits change no lines, so that a problem stays in its own. */
const diagnosticKey = ({ code, file, span }: Diagnostic, lineOf: LineOf): string =>
  `${code} ${file} ${lineOf({ file, span })}`

/** Gives the line of a place, from 1. */
type LineOf = (place: Place) => number

function createLineFinder({ textOf }: SiteReport): LineOf {
  const indexOf = createLineIndexes(textOf)
  return ({ file, span: [start] }) => indexOf(file).at(start).line
}

const groupByFile = (edits: readonly Edit[]): Map<string, Edit[]> => groupBy(edits, ({ file }) => file)

/** The lines that edits change, before and after. */
function describeEdits(text: string, edits: readonly Edit[]): Omit<MadeChange, 'file'>[] {
  const index = createLineIndex(text)
  return edits.map(({ span: [start, end], text: replacement }) => {
    const { line } = index.at(start)
    const last = index.at(end).line
    const [from, to] = [index.startOf(line), index.startOf(last) + index.lineText(last).length]
    return {
      line,
      before: text.slice(from, to),
      after: text.slice(from, start) + replacement + text.slice(end, to),
    }
  })
}
