import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { BlockFields } from '../schema/field.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { computeReverse } from './compute-reverse.ts'
import { createDeriver } from './derive.ts'
import { runRules } from './run-rules.ts'

/**
 * Computes what is not written: reverse references first, then derived fields, which may read each other and
 * other entries in any order; rules last.
 */
export function computeEntries(
  collections: readonly LinkedCollection[],
  blocks: BlockFields,
): { computed: readonly LinkedCollection[]; diagnostics: Diagnostic[] } {
  const diagnostics: Diagnostic[] = []
  const reversed = computeReverse(collections, blocks)
  const withRules = reversed.some(({ collection }) => collection.rules.length > 0)
  const withDerived = reversed.some(({ collection }) => Object.keys(collection.derived).length > 0)
  if (!withRules && !withDerived) return { computed: reversed, diagnostics }
  const deriver = createDeriver(reversed, blocks, (diagnostic) => diagnostics.push(diagnostic))
  const computed = reversed.map(({ collection, entries }) => ({
    collection,
    entries: entries.map((entry): LinkedEntry => (entry.data ? { ...entry, data: deriver.dataOf(entry) } : entry)),
  }))
  runRules(reversed, deriver, (diagnostic) => diagnostics.push(diagnostic))
  return { computed, diagnostics }
}
