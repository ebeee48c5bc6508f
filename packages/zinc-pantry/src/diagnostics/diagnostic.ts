import { type Catalogue, catalogue } from './catalogue/index.ts'
import type { Severity } from './severity.ts'

export type { Severity } from './severity.ts'

/** A range of a text: offsets in UTF-16 code units, 0-based, the end excluded. */
export type Span = readonly [start: number, end: number]

/** A range of a file. `file` is relative to the site's root, with forward slashes. */
export interface Place {
  readonly file: string
  readonly span: Span
}

/** A second place that helps to understand a problem, such as the first of two equal ids. */
export interface RelatedPlace extends Place {
  /** Words for the place, such as "First used here". */
  readonly note: RelatedNote
}

/** The kinds of related places. */
export type RelatedNote = 'first-used' | 'other-writing' | 'opened' | 'failed-target'

/** A replacement of one range of a text that would mend the problem. */
export interface Edit extends Place {
  readonly text: string
}

/** Every code a diagnostic can have. */
export type DiagnosticCode = keyof Catalogue

/** The facts a code's words are made from. */
export type ParametersOf<Code extends DiagnosticCode> = Parameters<Catalogue[Code]['message']>[0]

/**
 * A problem with a place, a code and a way to mend it. A plain JSON-safe value, the same for every
 * shell; its words are made late, by {@link messageOf} and {@link helpOf}.
 */
export interface Diagnostic extends Place {
  readonly code: DiagnosticCode
  readonly severity: Severity
  readonly parameters: Readonly<Record<string, unknown>>
  readonly related?: readonly RelatedPlace[]
  readonly edit?: Edit
  /** The collection whose content it concerns. */
  readonly collection?: string
  /** The field that it concerns, by its dotted path; positions in lists and keys of maps are left out. */
  readonly field?: string
}

/**
 * Makes a diagnostic; its severity comes from the catalogue.
 *
 * @example
 * ```ts
 * import { createDiagnostic, messageOf } from 'zinc-pantry/engine'
 *
 * const place = { file: 'content/huts/gable.md', span: [0, 3] } as const
 * console.log(messageOf(createDiagnostic('site-rule', place, { message: 'The hut has no warden' })))
 * ```
 */
export function createDiagnostic<Code extends DiagnosticCode>(
  code: Code,
  place: Place,
  parameters: ParametersOf<Code>,
  more: { related?: readonly RelatedPlace[]; edit?: Edit | undefined; field?: string | undefined } = {},
): Diagnostic {
  const { file, span } = place
  return {
    code,
    severity: catalogue[code].severity,
    file,
    span,
    parameters: parameters as Readonly<Record<string, unknown>>,
    ...(more.related?.length ? { related: more.related } : {}),
    ...(more.edit ? { edit: more.edit } : {}),
    ...(more.field ? { field: more.field } : {}),
  }
}

/** A problem that a rule of the site found; its code is the site's own. */
export function createSiteDiagnostic(
  place: Place,
  { code, message, help, severity = 'error' }: { code: string; message: string; help?: string; severity?: Severity },
): Diagnostic {
  return { ...createDiagnostic('site-rule', place, { message, help }), code: code as DiagnosticCode, severity }
}

type AnyEntry = {
  message: (parameters: Readonly<Record<string, unknown>>) => string
  help: (parameters: Readonly<Record<string, unknown>>) => string | undefined
}

/** A code of the site's own has the words that its rule gave. */
const entryOf = ({ code }: Diagnostic): AnyEntry =>
  (Object.hasOwn(catalogue, code) ? catalogue[code] : catalogue['site-rule']) as unknown as AnyEntry

/**
 * The message of a diagnostic, in one line: at most 120 characters, no full stop.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, messageOf } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * for (const diagnostic of report.diagnostics) console.log(messageOf(diagnostic))
 * ```
 */
export const messageOf = (diagnostic: Diagnostic): string => entryOf(diagnostic).message(diagnostic.parameters)

/**
 * How to mend it, when there is something to say.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, helpOf } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * for (const diagnostic of report.diagnostics) console.log(helpOf(diagnostic) ?? 'nothing to say')
 * ```
 */
export const helpOf = (diagnostic: Diagnostic): string | undefined => entryOf(diagnostic).help(diagnostic.parameters)

const relatedWords: Record<RelatedNote, string> = {
  'first-used': 'First used here',
  'other-writing': 'Written in another way here',
  opened: 'Opened here',
  'failed-target': 'This file could not be read',
}

/** The words for a related place. */
export const noteOf = (related: RelatedPlace): string => relatedWords[related.note]

/**
 * True when any of them is an error.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, hasErrors } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * process.exitCode = hasErrors(report.diagnostics) ? 1 : 0
 * ```
 */
export const hasErrors = (diagnostics: readonly Diagnostic[]): boolean =>
  diagnostics.some((diagnostic) => diagnostic.severity === 'error')

/** True for what may be different the next time though nothing was changed, so that it must not be remembered. */
export const isFault = ({ code }: Diagnostic): boolean =>
  Object.hasOwn(catalogue, code) && 'isFault' in catalogue[code] && catalogue[code].isFault === true

/** Orders by file, place and code, and drops duplicates. Files are compared by code unit. */
export function arrangeDiagnostics(diagnostics: readonly Diagnostic[]): Diagnostic[] {
  const arranged = [...diagnostics].sort(compareDiagnostics)
  return arranged.filter((diagnostic, at) => {
    const previous = arranged[at - 1]
    return !previous || compareDiagnostics(previous, diagnostic) !== 0
  })
}

function compareDiagnostics(a: Diagnostic, b: Diagnostic): number {
  if (a.file !== b.file) return a.file < b.file ? -1 : 1
  const difference = a.span[0] - b.span[0] || a.span[1] - b.span[1]
  if (difference !== 0) return difference
  if (a.code !== b.code) return a.code < b.code ? -1 : 1
  const left = messageOf(a)
  const right = messageOf(b)
  if (left === right) return 0
  return left < right ? -1 : 1
}
