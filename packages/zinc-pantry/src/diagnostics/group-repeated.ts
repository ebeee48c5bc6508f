import { addTo } from './add-to.ts'
import { type Diagnostic, messageOf } from './diagnostic.ts'

/** A problem, and the others that are like it, in order. */
export interface ProblemGroup {
  readonly first: Diagnostic
  readonly others: readonly Diagnostic[]
}

/** So many problems of one kind are told each by itself. */
const FEW = 3

/** What problems of one kind have in common: a code, and a field, a component, or the words. */
function kindOf(diagnostic: Diagnostic): string {
  const { code, severity, collection, field, parameters } = diagnostic
  const { name } = parameters
  const subject =
    field !== undefined && code !== 'field-unknown'
      ? `field ${field}`
      : code === 'component-unknown' && typeof name === 'string'
        ? `component ${name}`
        : messageOf(diagnostic)
  return [severity, code, collection, subject].join('\n')
}

/** Problems in order, of which many of one kind stand together where the first of them stands. */
export function groupRepeated(diagnostics: readonly Diagnostic[]): ProblemGroup[] {
  const kinds = new Map<string, Diagnostic[]>()
  for (const diagnostic of diagnostics) addTo(kinds, kindOf(diagnostic), diagnostic)
  return diagnostics.flatMap((diagnostic): ProblemGroup[] => {
    const [first = diagnostic, ...others] = kinds.get(kindOf(diagnostic)) ?? []
    if (others.length < FEW) return [{ first: diagnostic, others: [] }]
    return diagnostic === first ? [{ first, others }] : []
  })
}

/** How often problems of a code are there in a field of a collection. */
export interface ProblemCount {
  readonly severity: Diagnostic['severity']
  readonly code: string
  readonly collection: string | undefined
  readonly field: string | undefined
  readonly count: number
}

/** Counts problems by code, collection and field, the most frequent first. */
export function countProblems(diagnostics: readonly Diagnostic[]): ProblemCount[] {
  const kinds = new Map<string, Diagnostic[]>()
  for (const one of diagnostics) addTo(kinds, [one.severity, one.code, one.collection, one.field].join('\n'), one)
  return Array.from(kinds.values(), (own): ProblemCount => {
    const { severity, code, collection, field } = own[0] as Diagnostic
    return { severity, code, collection, field, count: own.length }
  }).sort((a, b) => b.count - a.count || (keyOf(a) < keyOf(b) ? -1 : 1))
}

const keyOf = ({ code, collection, field }: ProblemCount): string => [code, collection, field].join('\n')
