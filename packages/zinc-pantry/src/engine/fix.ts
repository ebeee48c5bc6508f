import { addTo } from '../diagnostics/add-to.ts'
import type { Edit } from '../diagnostics/diagnostic.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import { HostError } from '../host/host.ts'
import { readText } from './read-text.ts'
import { checkSite, type SiteOptions, type SiteReport } from './site.ts'

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
  let report = await checkSite(options)
  for (let round = 0; round < MAX_ROUNDS; round++) {
    const edits = report.diagnostics.flatMap(({ edit }) => edit ?? [])
    const made = [...groupByFile(edits)].flatMap(([file, own]) => {
      const text = readText(host, file)
      return text === undefined ? [] : [{ file, ...applyEdits(text, own) }]
    })
    if (made.length === 0) break
    changes.push(...made.flatMap(({ file, lines }) => lines.map((line) => ({ file, ...line }))))
    if (dryRun) break
    try {
      for (const { file, text } of made) host.write(file, withMark(host.read(file)) + text)
    } catch (error) {
      if (error instanceof HostError) break
      throw error
    }
    report = await checkSite(options)
  }
  return { ...report, changes }
}

/** A byte order mark is no part of texts; a file that had one keeps it. */
const withMark = (bytes: Uint8Array): string =>
  bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? '\ufeff' : ''

function groupByFile(edits: readonly Edit[]): Map<string, Edit[]> {
  const groups = new Map<string, Edit[]>()
  for (const edit of edits) addTo(groups, edit.file, edit)
  return groups
}

interface Applied {
  readonly text: string
  readonly lines: readonly Omit<MadeChange, 'file'>[]
}

/** Makes all edits of a text that do not overlap, the first first. */
function applyEdits(text: string, edits: readonly Edit[]): Applied {
  const index = createLineIndex(text)
  const lines: Omit<MadeChange, 'file'>[] = []
  let result = ''
  let at = 0
  const sorted = edits.toSorted((a, b) => a.span[0] - b.span[0] || a.span[1] - b.span[1])
  for (const {
    span: [start, end],
    text: replacement,
  } of sorted) {
    if (start < at) continue
    result += text.slice(at, start) + replacement
    at = end
    const { line } = index.at(start)
    const last = index.at(end).line
    const [from, to] = [index.startOf(line), index.startOf(last) + index.lineText(last).length]
    const change = {
      line,
      before: text.slice(from, to),
      after: text.slice(from, start) + replacement + text.slice(end, to),
    }
    lines.push(change)
  }
  return { text: result + text.slice(at), lines }
}
