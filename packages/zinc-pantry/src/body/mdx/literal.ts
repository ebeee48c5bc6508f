import type { Expression, SpreadElement } from 'estree'
import { setOwn } from '../../diagnostics/own-key.ts'

/** Stands for what only running the code would tell. */
export const NOT_LITERAL = Symbol('not literal')

/** The value of an expression that is written out in full. */
export function literalOf(node: Expression | SpreadElement | null): unknown {
  if (!node) return NOT_LITERAL
  if (node.type === 'Literal') return 'regex' in node || 'bigint' in node ? NOT_LITERAL : node.value
  if (node.type === 'TemplateLiteral')
    return node.expressions.length === 0 ? (node.quasis[0]?.value.cooked ?? '') : NOT_LITERAL
  if (node.type === 'UnaryExpression' && node.operator === '-') {
    const value = literalOf(node.argument)
    return typeof value === 'number' ? -value : NOT_LITERAL
  }
  if (node.type === 'ArrayExpression') {
    const items = node.elements.map(literalOf)
    return items.includes(NOT_LITERAL) ? NOT_LITERAL : items
  }
  if (node.type !== 'ObjectExpression') return NOT_LITERAL
  const result: Record<string, unknown> = {}
  for (const property of node.properties) {
    if (property.type !== 'Property' || property.computed || property.kind !== 'init') return NOT_LITERAL
    const { key } = property
    const name = key.type === 'Identifier' ? key.name : key.type === 'Literal' ? String(key.value) : undefined
    const value = literalOf(property.value as Expression)
    if (name === undefined || value === NOT_LITERAL) return NOT_LITERAL
    setOwn(result, name, value)
  }
  return result
}
