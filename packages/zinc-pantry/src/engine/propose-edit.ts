import type { Diagnostic, Edit, Span } from '../diagnostics/diagnostic.ts'
import { groupBy } from '../diagnostics/group-by.ts'
import type { TextSource } from '../diagnostics/render-text.ts'
import { type Endings, type Format, formatOf } from '../read/formats.ts'
import type { ValueType } from '../schema/check-run.ts'
import { whyNoDate } from '../schema/fields/date.ts'
import { timeForm } from '../schema/fields/time.ts'
import { keepEdits } from './apply-edits.ts'
import { proveEdits } from './prove-edits.ts'
import { KEPT_FOLDER } from './sources.ts'

/** The surroundings of a proposal. */
interface Subject {
  readonly parameters: Readonly<Record<string, unknown>>
  /** The text at the place of the problem. */
  readonly slice: string
  readonly text: string
  readonly span: Span
  readonly format: Format
}

/** A text for the place, or a text for another place. */
type Proposal = string | { readonly span: Span; readonly text: string } | undefined

/**
 * Adds the edit that would mend it to every problem that has a safe one. What a rule proposes is proved before it is
 * offered: with the edit made, the file says the same but for what was wrong.
 */
export function proposeEdits(
  diagnostics: readonly Diagnostic[],
  textOf: TextSource,
  endings: Endings,
): readonly Diagnostic[] {
  const proposed = diagnostics.map((diagnostic) => {
    // What was fetched is mended where it came from.
    const propose = diagnostic.file.startsWith(`${KEPT_FOLDER}/`) ? undefined : PROPOSALS[diagnostic.code]
    const text = propose && textOf(diagnostic.file)
    const format = formatOf(diagnostic.file, endings)
    if (!propose || text === undefined || !format) return diagnostic
    const { file, span, parameters } = diagnostic
    const proposal = propose({ parameters, slice: text.slice(...span), text, span, format })
    if (proposal === undefined) return diagnostic
    const edit: Edit = typeof proposal === 'string' ? { file, span, text: proposal } : { file, ...proposal }
    return { ...diagnostic, edit }
  })
  const byFile = groupBy(
    proposed.flatMap(({ edit }) => edit ?? []),
    ({ file }) => file,
  )
  const sound = new Set(
    [...byFile].flatMap(([file, edits]) => {
      const format = formatOf(file, endings)
      return format ? proveEdits({ file, text: textOf(file) ?? '', format }, edits) : []
    }),
  )
  return keepEdits(proposed, sound)
}

const PROPOSALS: Readonly<Record<string, (subject: Subject) => Proposal>> = {
  'field-unknown': ({ parameters, slice }) => renamed(slice, parameters.suggestion),
  'ref-dangling': ({ parameters, slice }) => sameButCase(slice, parameters.id, parameters.suggestion),
  'choice-unknown': ({ parameters, slice }) => sameButCase(slice, parameters.value, parameters.suggestion),
  'value-type': proposeType,
  'number-leading-zero': ({ parameters }) => String(parameters.value),
  'yaml-colon': ({ slice }) => `'${slice.replaceAll("'", "''")}'`,
  'yaml-tab': proposeSpaces,
  'json-trailing-comma': () => '',
  'front-matter-misplaced': ({ span }) => ({ span: [0, span[0]], text: '' }),
  'date-invalid': ({ slice }) => inside(slice, isoDate),
  'form-invalid': ({ slice, parameters }) =>
    parameters.form === 'time' ? inside(slice, (text) => padTime(text)) : undefined,
}

const QUOTES = /^(["'])(.*)\1$/s

/** Changes a text inside of its quotes, if it has any. */
function inside(slice: string, change: (text: string) => string | undefined): string | undefined {
  const quoted = QUOTES.exec(slice)
  const changed = change(quoted?.[2] ?? slice)
  return changed === undefined ? undefined : quoted ? `${quoted[1]}${changed}${quoted[1]}` : changed
}

function renamed(slice: string, suggestion: unknown): string | undefined {
  if (typeof suggestion !== 'string' || /[\s:#'"]/.test(suggestion)) return undefined
  return inside(slice, () => suggestion)
}

/** A misspelt word may mean something else; one in another case may not. */
function sameButCase(slice: string, written: unknown, suggestion: unknown): string | undefined {
  if (typeof suggestion !== 'string' || String(written).toLowerCase() !== suggestion.toLowerCase()) return undefined
  return inside(slice, (text) => (text === written ? suggestion : undefined))
}

const NUMBER = /^-?(?:0|[1-9]\d*)(?:\.\d+)?$/

function proposeType({ parameters: { type }, slice, format }: Subject): Proposal {
  if (!format.hasQuotes) return undefined
  const quoted = QUOTES.exec(slice)?.[2]
  switch (type as ValueType | undefined) {
    case 'string':
      return /^[\w.+-]+$/.test(slice) && quoted === undefined ? `"${slice}"` : undefined
    case 'number':
      return quoted !== undefined && NUMBER.test(quoted) ? quoted : undefined
    case 'integer':
      return quoted !== undefined && NUMBER.test(quoted) && Number.isInteger(Number(quoted)) ? quoted : undefined
    case 'boolean':
      return flagText(quoted ?? slice)
    case 'array':
      return /^[^\n[\]{},#]+$/.test(slice) ? `[${slice}]` : undefined
    default:
      return undefined
  }
}

function flagText(text: string): string | undefined {
  if (/^(?:true|yes|on)$/i.test(text)) return 'true'
  return /^(?:false|no|off)$/i.test(text) ? 'false' : undefined
}

/** The tabs at the start of a line as spaces: two each. */
function proposeSpaces({ text, span: [start] }: Subject): Proposal {
  const lineStart = Math.max(text.lastIndexOf('\n', start - 1), text.lastIndexOf('\r', start - 1)) + 1
  const indent = /^[ \t]*/.exec(text.slice(lineStart))?.[0] ?? ''
  return { span: [lineStart, lineStart + indent.length], text: indent.replaceAll('\t', '  ') }
}

/** Other ways to write a date that can mean only one day. */
function isoDate(text: string): string | undefined {
  const yearFirst = /^(\d{4})([-/.])(\d{1,2})\2(\d{1,2})$/.exec(text)
  const dayFirst = /^(\d{1,2})([-/.])(\d{1,2})\2(\d{4})$/.exec(text)
  const parts = yearFirst
    ? [yearFirst[1], yearFirst[3], yearFirst[4]]
    : dayFirst
      ? [dayFirst[4], dayFirst[3], dayFirst[1]]
      : undefined
  if (!parts) return undefined
  // 3/4/2026 is April to some and March to others.
  if (dayFirst && Number(dayFirst[1]) <= 12) return undefined
  const [year = '', month = '', day = ''] = parts
  const date = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`
  return whyNoDate(date) === undefined ? date : undefined
}

function padTime(text: string): string | undefined {
  const padded = `0${text}`
  return /^\d:\d\d/.test(text) && 'value' in timeForm.read(padded, { kind: 'time', options: {} }) ? padded : undefined
}
