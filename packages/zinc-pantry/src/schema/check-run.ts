import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import type { PatternMatcher } from '../values/patterns/linear-matcher.ts'
import type { AssetAnswer } from './asset.ts'
import type { SourceOptions } from './image-sources.ts'

export type { PatternMatcher }

/** One step into a value, as in the readers. */
export type Step = string | number

/** The part of an entry that a problem concerns: a value, its key, its absence, or a key that is no field's. */
export type ReportedPart = 'key' | 'value' | 'absent' | 'unknown-key'

/** The surroundings of a check, and the place where its findings go. */
export interface CheckRun {
  /** The path of the value being checked. Checks push and pop while they descend. */
  readonly path: Step[]
  /** How many private fields the value being checked stands in. Checks count up and down while they descend. */
  readonly within: { private: number }
  /** Reports a problem of the value at the current path, of its key, or of what is not there. */
  report<Code extends DiagnosticCode>(code: Code, parameters: ParametersOf<Code>, part?: ReportedPart): void
  /** A single value at the current path as it is written in the file: `007`, `1e3`, `"en"`. */
  written(value: string | number | boolean): string
  /** True where the text has numbers with zeros in front, so that `written` is worth a look. */
  readonly hasLeadingZeros: boolean
  /** Records that the value at the current path refers to an entry. Gives what stands for it until it is found. */
  reference(reference: WantedReference): unknown
  /** Is given what passed of an entry of which not all did. */
  keepPart?(part: Readonly<Record<string, unknown>>): void
  /** Looks at a file that the entry names, and notes that it does, and what is to be made of it. */
  asset(path: string, sources?: SourceOptions): AssetAnswer
  /** Looks at a file without noting it. */
  look(path: string): AssetAnswer
  /** Records Markdown at the current path, whose links are to be checked. */
  linked(text: string): void
  /** Matches a pattern of the configuration; nothing of a site's own may be matched in another way. */
  readonly matches: PatternMatcher
}

/** The surroundings of the check of a value that no file holds: nothing is looked up, and references stay what they are. */
export const createDetachedRun = (own: Pick<CheckRun, 'report' | 'matches'> & Partial<CheckRun>): CheckRun => ({
  path: [],
  within: { private: 0 },
  hasLeadingZeros: false,
  written: String,
  reference: ({ text }) => text,
  asset: (path) => ({ missing: path }),
  look: (path) => ({ missing: path }),
  linked: () => undefined,
  ...own,
})

/** A reference as it is written. */
export interface WantedReference {
  /** The collections that may hold the entry, in the order of the configuration. */
  readonly targets: readonly string[]
  /** The key that the text is compared with: `id`, `slug`, or the name of a field of the target. */
  readonly by: string
  readonly text: string
  /** True where the value must say which collection it leads to. */
  readonly several: boolean
  /** True where the entry must be there: the reference may not create it. */
  readonly isFound?: true | undefined
}

/** Stands for an item of a list that is switched off. */
export const OFF = Symbol('off')

/** Stands for a value that did not pass; the problem is reported already. */
export const INVALID = Symbol('invalid')

/** Checks a present value: gives the value for the entry, or {@link INVALID}. */
export type Check = (value: unknown, run: CheckRun) => unknown

/** Reports that a text is not of its form; gives {@link INVALID}. */
export function reject<Code extends DiagnosticCode>(
  run: CheckRun,
  code: Code,
  parameters: ParametersOf<Code>,
): typeof INVALID {
  run.report(code, parameters)
  return INVALID
}

/** Reports a value of the wrong type, with what a writer should do about it. */
export function wrongType(
  run: CheckRun,
  seen: string,
  expected: string | { readonly words: string; readonly type: ValueType },
  hint?: string | undefined,
): typeof INVALID {
  const { words, type } = typeof expected === 'string' ? { words: expected, type: undefined } : expected
  run.report('value-type', { seen, expected: words, hint, type })
  return INVALID
}

/** Types by the names of JSON Schema. */
export type ValueType = 'string' | 'number' | 'integer' | 'boolean' | 'array'
