import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { Severities } from '../schema/model.ts'

/** Gives diagnostics the severities of the configuration; those that are off are dropped. */
export function applySeverities(diagnostics: readonly Diagnostic[], severities: Severities): readonly Diagnostic[] {
  if (severities.size === 0) return diagnostics
  return diagnostics.flatMap((diagnostic) => {
    const severity = severities.get(diagnostic.code) ?? diagnostic.severity
    return severity === 'off' ? [] : [{ ...diagnostic, severity }]
  })
}
