import type { Expression } from 'estree'
import type { Root } from 'mdast'
import { siteComponents } from './components.ts'

/** Gives the uses of blocks the properties that their fields have by default. */
export function addProperties(tree: Root, properties: readonly Readonly<Record<string, unknown>>[]): void {
  for (const [at, element] of siteComponents(tree).elements.entries()) {
    const written = new Set(element.attributes.map((one) => (one.type === 'mdxJsxAttribute' ? one.name : '')))
    for (const [name, value] of Object.entries(properties[at] ?? {})) {
      if (written.has(name) || value === undefined) continue
      const expression: Expression = toExpression(value)
      const estree = {
        type: 'Program' as const,
        sourceType: 'module' as const,
        body: [{ type: 'ExpressionStatement' as const, expression }],
        comments: [],
      }
      element.attributes.push({
        type: 'mdxJsxAttribute',
        name,
        value: { type: 'mdxJsxAttributeValueExpression', value: JSON.stringify(value), data: { estree } },
      })
    }
  }
}

/** Plain data as code. */
function toExpression(value: unknown): Expression {
  if (Array.isArray(value)) return { type: 'ArrayExpression', elements: value.map(toExpression) }
  if (typeof value !== 'object' || value === null) {
    if (typeof value === 'number' && value < 0)
      return { type: 'UnaryExpression', operator: '-', prefix: true, argument: toExpression(-value) }
    return { type: 'Literal', value: value as string | number | boolean | null }
  }
  return {
    type: 'ObjectExpression',
    properties: Object.entries(value).map(([key, inner]) => ({
      type: 'Property',
      kind: 'init',
      method: false,
      shorthand: false,
      computed: false,
      key: { type: 'Literal', value: key },
      value: toExpression(inner),
    })),
  }
}
