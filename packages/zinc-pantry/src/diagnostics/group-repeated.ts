import { type Diagnostic, messageOf } from './diagnostic.ts'
import { groupBy } from './group-by.ts'

/** A problem, and the others that are like it, in order. */
export interface ProblemGroup {
  readonly first: Diagnostic
  readonly others: readonly Diagnostic[]
}

/** The number of problems of one kind that are told each by itself. */
const FEW = 3

/** The key that problems of one kind share: a code, and a field, a component, or the words. */
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
  const many = [...groupBy(diagnostics, kindOf).values()].filter(({ length }) => length > FEW)
  const othersOf = new Map(many.map(([first, ...others]) => [first, others]))
  const told = new Set([...othersOf.values()].flat())
  return diagnostics.flatMap((first) => (told.has(first) ? [] : [{ first, others: othersOf.get(first) ?? [] }]))
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
  const kinds = groupBy(diagnostics, (one) => [one.severity, one.code, one.collection, one.field].join('\n'))
  return Array.from(kinds.values(), (own): ProblemCount => {
    const { severity, code, collection, field } = own[0] as Diagnostic
    return { severity, code, collection, field, count: own.length }
  }).sort((a, b) => b.count - a.count || (keyOf(a) < keyOf(b) ? -1 : 1))
}

const keyOf = ({ code, collection, field }: ProblemCount): string => [code, collection, field].join('\n')
