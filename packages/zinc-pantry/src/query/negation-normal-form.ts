import { isComputed } from '../values/computed-steps.ts'
import type { ComparedFields, FieldPlace } from './compare-fields.ts'
import { type ConditionTree, describe, type Scalar } from './condition.ts'
import { QueryError } from './query-error.ts'
import { createReader } from './read-path.ts'
import { followPath, type Shape } from './shape.ts'
import { NEGATIVE, type ValueQuestion } from './test-value.ts'

/**
 * A condition with `not` as the only thing that holds where there is no value, `some` as the only way into lists, and
 * no paths beyond references.
 */
export type NormalForm =
  | (ValueQuestion & { readonly kind: 'test'; readonly path: readonly string[] })
  | { readonly kind: 'and' | 'or'; readonly parts: readonly NormalForm[] }
  | { readonly kind: 'not'; readonly part: NormalForm }
  | { readonly kind: 'some'; readonly path: readonly string[]; readonly part: NormalForm }
  | ComparedFields

/** What a condition asks of other collections. */
export interface OtherCollections {
  /** The ids of the entries for which a condition holds. */
  findIds(collection: string, condition: ConditionTree): Promise<readonly Scalar[]>
  /** The values at a path of all entries, by their ids. */
  findValues(collection: string, path: readonly string[]): Promise<ReadonlyMap<unknown, unknown>>
}

const not = (part: NormalForm): NormalForm => (part.kind === 'not' ? part.part : { kind: 'not', part })

/** The same condition in its positive form: what is asked of referenced entries becomes a question for their ids. */
export async function toNormalForm(tree: ConditionTree, shape: Shape, others: OtherCollections): Promise<NormalForm> {
  const inner = (part: ConditionTree, below = shape): Promise<NormalForm> => toNormalForm(part, below, others)
  if (tree.kind === 'not') return not(await inner(tree.part))
  if ('parts' in tree) return { kind: tree.kind, parts: await Promise.all(tree.parts.map((part) => inner(part))) }
  if (tree.kind === 'none') return not(await inner({ ...tree, kind: 'some' }))
  if (tree.kind === 'every') return not(await inner({ ...tree, kind: 'some', part: { kind: 'not', part: tree.part } }))
  if (tree.kind === 'compare') return compared(tree)
  const operator = tree.kind === 'test' && NEGATIVE[tree.operator]
  if (operator) return not(await inner({ ...tree, operator }))

  async function compared(asked: Extract<ConditionTree, { readonly kind: 'compare' }>): Promise<NormalForm> {
    const { operator: how } = asked
    if (how === 'isNot') return not(await compared({ ...asked, operator: 'is' }))
    // Few queries compare fields.
    const { prepareComparison } = await import('./compare-fields.ts')
    const follow = async (path: readonly string[]): Promise<FieldPlace> => {
      const { crossing } = followPath(shape, path)
      if (crossing?.target === undefined) return { path }
      return { path: crossing.before, behind: await others.findValues(crossing.target, crossing.after) }
    }
    return prepareComparison(asked, { createReader, follow })
  }
  const isOneOf = async (path: readonly string[], target = '', condition: ConditionTree): Promise<NormalForm> => {
    return { kind: 'test', path, operator: 'isOneOf', values: await others.findIds(target, condition) }
  }
  const { crossing, end } = followPath(shape, tree.path)
  if (crossing) {
    const { before, after, target } = crossing
    const asked = { ...tree, path: after }
    if (target !== undefined) return isOneOf(before, target, asked)
    // Few references lead to several collections.
    const { asAddressTests } = await import('./addresses.ts')
    const ways = await asAddressTests(crossing, (path, one) => isOneOf(path, one, asked))
    return { kind: 'or', parts: ways.map((parts) => ({ kind: 'and', parts })) }
  }
  if (tree.kind === 'test') {
    // A list is present where it has items.
    if (end.kind === 'list') return { kind: 'some', path: tree.path, part: { ...tree, path: [] } }
    // Few queries look at words, so what takes them apart is loaded for those.
    const asked = isComputed(tree.path) ? { ...tree, read: await createReader(tree.path) } : tree
    if (tree.operator === 'matches') {
      const { compileBounded } = await import('../values/patterns/linear-matcher.ts')
      const matches = compileBounded(String(tree.values[0]))
      if (!matches)
        throw new QueryError(
          `${describe(tree.values[0])} cannot be matched in bounded time: it looks ahead, behind or back`,
        )
      return { ...asked, passes: (value) => typeof value === 'string' && matches(value) }
    }
    if (tree.operator !== 'hasWords') return asked
    const { hasWords } = await import('./words.ts')
    return { ...asked, passes: hasWords(String(tree.values[0])) }
  }
  const { path, part } = tree
  const item = end.item ?? end
  const isBeyond = item.kind === 'ref' && everyTest(part, ({ length }) => length > 0)
  return { kind: 'some', path, part: await (isBeyond ? isOneOf([], item.target, part) : inner(part, item)) }
}

/** True where something holds for the path of every test of a condition. */
export function everyTest(
  tree: ConditionTree,
  holds: (path: readonly string[]) => boolean,
  above: readonly string[] = [],
): boolean {
  if ('parts' in tree) return tree.parts.every((part) => everyTest(part, holds, above))
  const path = 'path' in tree ? [...above, ...tree.path] : above
  if (tree.kind === 'compare' && !holds([...above, ...tree.other])) return false
  return 'part' in tree ? everyTest(tree.part, holds, path) : holds(path)
}
