import { WRITTEN_OPERATORS } from '../values/operators.ts'
import type { ConditionTree, Scalar } from './condition.ts'
import { quote, WORDS, writePathNames } from './text-form-names.ts'

/**
 * Writes a condition in its text form, as `readCondition` reads it: the one is the other's way back.
 *
 * @example
 * ```ts
 * import { writeCondition } from 'zinc-pantry/query'
 *
 * const text = writeCondition({ kind: 'test', path: ['hut', 'beds'], operator: 'atLeast', values: [20] })
 * console.log(text) // hut.beds >= 20
 * ```
 */
export function writeCondition(tree: ConditionTree): string {
  switch (tree.kind) {
    case 'and':
    case 'or':
      return tree.parts.map(writePart).join(` ${tree.kind} `)
    case 'not':
      return `not ${writePart(tree.part)}`
    case 'compare':
      return `${pathOf(tree.path)} ${WRITTEN_OPERATORS[tree.operator]} @.${writePathNames(tree.other)}`
    case 'test':
      return writeTest(tree)
    default:
      return `${pathOf(tree.path)} ${tree.kind} (${writeCondition(tree.part)})`
  }
}

const writePart = (tree: ConditionTree): string =>
  'parts' in tree ? `(${writeCondition(tree)})` : writeCondition(tree)

const pathOf = (path: readonly string[]): string => writePathNames(path) || '@'

function writeTest({ path, operator, values }: Extract<ConditionTree, { kind: 'test' }>): string {
  const name = pathOf(path)
  const written = values.map(writeValue)
  const start = `${name} ${WRITTEN_OPERATORS[operator]}`
  if (operator === 'isPresent' || operator === 'isAbsent') return start
  if (operator === 'isOneOf' || operator === 'isNoneOf') return `${start} (${written.join(', ')})`
  return `${start} ${written.join(' and ')}`
}

const PLAIN = /^[^\s=<>!(),"'@]+$/

function writeValue(value: Scalar): string {
  const text = String(value)
  return PLAIN.test(text) && !WORDS.test(text) ? text : quote(text)
}
