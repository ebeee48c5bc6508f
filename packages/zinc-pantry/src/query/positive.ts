import type { ConditionTree } from './condition.ts'
import { NEGATIVE, type ValueQuestion } from './test-value.ts'

/** A condition with `not` as the only thing that holds where there is no value, and `some` as the only way into lists. */
export type Positive =
  | (ValueQuestion & { readonly kind: 'test'; readonly path: readonly string[] })
  | { readonly kind: 'and' | 'or'; readonly parts: readonly Positive[] }
  | { readonly kind: 'not'; readonly part: Positive }
  | { readonly kind: 'some'; readonly path: readonly string[]; readonly part: Positive }

const not = (part: Positive): Positive => (part.kind === 'not' ? part.part : { kind: 'not', part })

/** The same condition in its positive form. */
export function toPositive(tree: ConditionTree): Positive {
  switch (tree.kind) {
    case 'and':
    case 'or':
      return { kind: tree.kind, parts: tree.parts.map(toPositive) }
    case 'not':
      return not(toPositive(tree.part))
    case 'test': {
      const operator = NEGATIVE[tree.operator]
      return operator === undefined ? tree : not({ ...tree, operator })
    }
    case 'some':
      return { kind: 'some', path: tree.path, part: toPositive(tree.part) }
    case 'none':
      return not({ kind: 'some', path: tree.path, part: toPositive(tree.part) })
    case 'every':
      return not({ kind: 'some', path: tree.path, part: not(toPositive(tree.part)) })
  }
}
