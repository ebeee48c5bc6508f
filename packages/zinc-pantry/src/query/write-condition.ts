import type { ConditionTree, Operator, Scalar } from './condition.ts'
import { quote, WORDS, writePathNames } from './text-form-names.ts'

const SIGNS: Partial<Record<Operator, string>> = {
  is: '=',
  isNot: '!=',
  atLeast: '>=',
  atMost: '<=',
  above: '>',
  below: '<',
  startsWith: 'startsWith',
  includes: 'includes',
  hasWords: 'hasWords',
}

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
  switch (operator) {
    case 'isPresent':
      return `${name} present`
    case 'isAbsent':
      return `${name} absent`
    case 'isOneOf':
      return `${name} in (${written.join(', ')})`
    case 'isNoneOf':
      return `${name} not in (${written.join(', ')})`
    case 'between':
      return `${name} between ${written.join(' and ')}`
    default:
      return `${name} ${SIGNS[operator]} ${written[0]}`
  }
}

const PLAIN = /^[^\s=<>!(),"'@]+$/

function writeValue(value: Scalar): string {
  const text = String(value)
  return PLAIN.test(text) && !WORDS.test(text) ? text : quote(text)
}
