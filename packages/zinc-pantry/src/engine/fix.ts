import type { Change } from '../change/change.ts'
import { contentsOf, findStale } from '../change/contents.ts'
import { createPieceTable, type PieceTable } from '../change/piece-table.ts'
import { arrangeDiagnostics, type Diagnostic, type Edit, type Place } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import { createLineIndexes } from '../diagnostics/render-text.ts'
import { plural } from '../diagnostics/words.ts'
import { applyEdits, keepEdits, withoutOverlap } from './apply-edits.ts'
import { applyContents } from './change-journal.ts'
import type { ChangeReport } from './change-request.ts'
import { overlayHost } from './overlay-host.ts'
import { readBytes } from './read-text.ts'
import { checkSite } from './site.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** One mend can uncover the next problem of a file, but hardly more often. */
const MAX_ROUNDS = 50

const NO_CHANGE = {
  change: { words: 'Nothing is mended', steps: [], attention: [] },
  ...{ before: new Map(), after: new Map(), unfilled: [], isWritten: false, changed: [] },
} satisfies Partial<ChangeReport>

/**
 * Mends what can be mended safely: misspelt keys, quotes, dates in other forms. Comments and layout stay as
 * they are. With `dryRun` nothing is written.
 *
 * Diagnostics: all of `checkSite`.
 *
 * @example
 * ```ts
 * import { createNodeHost, fixSite } from 'zinc-pantry/engine'
 *
 * const { change } = await fixSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts', dryRun: true })
 * for (const { file, reason } of change.steps) console.log(file, reason)
 * ```
 */
export async function fixSite({
  dryRun = false,
  ...options
}: SiteOptions & { readonly dryRun?: boolean }): Promise<ChangeReport> {
  const { host } = options
  const first = await checkSite(options)
  const problems = { ...first, diagnostics: [] }
  if (!first.diagnostics.some(({ edit }) => edit)) return { ...first, ...NO_CHANGE, outcome: first, problems }
  const { compileMdx, examineSite } = await import('./run-site.ts')
  const examined = await examineSite({ ...options, isShared: true })
  const tables = new Map<string, PieceTable>()
  const read = new Map<string, Uint8Array | undefined>()
  /** The bytes of a file as they were when they were first asked for. */
  const bytesOf = (file: string): Uint8Array | undefined => {
    if (!read.has(file)) read.set(file, readBytes(host, file))
    return read.get(file)
  }
  const contentsNow = () => contentsOf(describeChange(tables), bytesOf)
  let site = examined
  const examine = (texts: ReadonlyMap<string, string> = new Map()) => {
    const encoded = [...texts].map(([file, text]) => [file, new TextEncoder().encode(text)] as const)
    const contents = new Map([...contentsNow().after, ...encoded])
    const seed = { memory: examined.memory, changed: new Set(contents.keys()) }
    return examineSite({ ...options, cache: false, host: overlayHost(host, contents), isShared: true, seed })
  }
  let proposed: readonly Edit[] = []
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const { report } = site
    const edits = await findHarmless(report, async (texts) => (await examine(texts)).report)
    if (round === 0) proposed = edits
    if (edits.length === 0) break
    for (const [file, own] of groupBy(edits, (edit) => edit.file)) {
      const text = report.textOf(file) ?? ''
      const table = tables.get(file) ?? createPieceTable(text)
      tables.set(file, table)
      table.apply(withoutOverlap(own).map((edit) => ({ ...edit, reason: reasonOf(text, edit) })))
    }
    site = await examine()
  }
  const change = describeChange(tables)
  const { before, after } = contentsNow()
  const mended = arrangeDiagnostics([...site.report.diagnostics, ...(await compileMdx(site))])
  const outcome = { ...site.report, diagnostics: keepEdits(mended, new Set()) }
  const answer: ChangeReport = {
    ...{ ...first, diagnostics: keepEditsAt(first.diagnostics, proposed) },
    ...{ ...NO_CHANGE, change, before, after, outcome, problems },
  }
  const changed = findStale(before, examined.report.textOf)
  if (changed.length > 0) return { ...answer, changed }
  if (dryRun || change.steps.length === 0) return answer
  const applied = await applyContents(host, { words: change.words, before, after })
  return 'changed' in applied ? { ...answer, changed: applied.changed } : { ...answer, isWritten: true }
}

/** All mends as a change. */
function describeChange(tables: ReadonlyMap<string, PieceTable>): Change {
  const steps = [...tables].flatMap(([file, table]) =>
    table.edits().map((edit) => ({ kind: 'edit' as const, file, ...edit })),
  )
  return { words: `${plural(steps.length, 'mend')} of check --fix`, steps, attention: [] }
}

/** Says what an edit does. */
function reasonOf(text: string, { span, text: replacement }: Edit): string {
  const [old, fresh] = [text.slice(...span), replacement].map((one) =>
    one.trim() === one && one !== '' ? one : JSON.stringify(one),
  )
  return replacement === '' ? `${old} goes` : `${old} becomes ${fresh}`
}

/** Problems of an earlier check with those of their edits that are kept, by their places. */
function keepEditsAt(diagnostics: readonly Diagnostic[], edits: readonly Edit[]): readonly Diagnostic[] {
  const keyOf = ({ file, span }: Edit): string => `${file} ${span.join()}`
  const kept = new Set(edits.map(keyOf))
  return keepEdits(diagnostics, new Set(diagnostics.flatMap(({ edit }) => (edit && kept.has(keyOf(edit)) ? edit : []))))
}

/** Checks the site with other texts of some files. */
type Trial = (texts: ReadonlyMap<string, string>) => Promise<SiteReport>

/** Edits that are made and found wrong are left out so often before none is made. */
const MAX_TRIALS = 8

/** Of the edits that a report proposes those after which no problem is there that was not there before. */
async function findHarmless(report: SiteReport, tryOut: Trial): Promise<readonly Edit[]> {
  let edits: readonly Edit[] = report.diagnostics.flatMap(({ edit }) => edit ?? [])
  const lineOf = createLineFinder(report)
  const known = new Set(report.diagnostics.map((one) => diagnosticKey(one, lineOf)))
  // What could not be read shows more once it can.
  const broken = new Set(report.diagnostics.flatMap(({ code, file }) => (SYNTAX.test(code) ? [file] : [])))
  for (let trial = 0; trial < MAX_TRIALS && edits.length > 0; trial++) {
    const changed = new Map(
      [...groupBy(edits, (edit) => edit.file)].map(([file, own]) => [
        file,
        applyEdits(report.textOf(file) ?? '', withoutOverlap(own)),
      ]),
    )
    const tried = await tryOut(changed)
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
