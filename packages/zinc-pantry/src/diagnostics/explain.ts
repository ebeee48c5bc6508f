import { catalogue } from './catalogue/index.ts'
import type { DiagnosticCode, Severity } from './diagnostic.ts'
import { bodyExplanations } from './explanations/bodies.ts'
import { configurationExplanations } from './explanations/configuration.ts'
import { entryExplanations } from './explanations/entries.ts'
import type { Explanation } from './explanations/explanation.ts'
import { syntaxExplanations } from './explanations/syntax.ts'
import { valueExplanations } from './explanations/values.ts'
import { suggestNearest } from './suggest.ts'

const explanations: Readonly<Record<DiagnosticCode, Explanation>> = {
  ...configurationExplanations,
  ...syntaxExplanations,
  ...entryExplanations,
  ...bodyExplanations,
  ...valueExplanations,
}

/** The explanation of a code. */
export interface ExplainedCode {
  readonly code: DiagnosticCode
  readonly severity: Severity
  readonly meaning: string
  /** A text that raises it. */
  readonly wrong: string
  /** A text that does not. */
  readonly right: string
}

/**
 * Every code there is, in the order of the alphabet.
 *
 * @example
 * ```ts
 * import { diagnosticCodes, explainCode } from 'zinc-pantry/engine'
 *
 * for (const code of diagnosticCodes()) console.log(code, explainCode(code))
 * ```
 */
export const diagnosticCodes = (): DiagnosticCode[] => (Object.keys(catalogue) as DiagnosticCode[]).sort()

/**
 * Explains a code, or names the nearest one where there is no such code.
 *
 * @example
 * ```ts
 * import { explainCode } from 'zinc-pantry/engine'
 *
 * const explained = explainCode('ref-dangling')
 * if ('meaning' in explained) console.log(explained.meaning)
 * ```
 */
export function explainCode(code: string): ExplainedCode | { readonly suggestion: string | undefined } {
  if (!Object.hasOwn(catalogue, code)) return { suggestion: suggestNearest(code, diagnosticCodes()) }
  const known = code as DiagnosticCode
  const [meaning, wrong, right] = explanations[known]
  return { code: known, severity: catalogue[known].severity, meaning, wrong, right }
}
