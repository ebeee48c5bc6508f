import type { Expression } from 'estree'
import type { Root } from 'mdast'
import type { BlockProperties } from '../parsed-body.ts'
import { siteComponents } from './components.ts'
import type { JsxElement } from './visit.ts'

type Attribute = JsxElement['attributes'][number]

/** Gives the uses of blocks the values that their fields have, those by default included, and hides what is private. */
export function addProperties(tree: Root, properties: readonly BlockProperties[]): void {
  let at = 0
  for (const element of siteComponents(tree).elements) {
    const use = properties[at]
    // A component that is no block has none.
    if (!use || use.name !== element.name) continue
    at++
    element.attributes = element.attributes.filter((one) => !isNamed(one, use.hidden))
    const written = new Set(element.attributes.map((one) => (one.type === 'mdxJsxAttribute' ? one.name : '')))
    const hasSpread = written.has('')
    for (const [name, value] of Object.entries(use.values)) {
      // What is spread may have a value of its own.
      if (value === undefined || (hasSpread && !written.has(name))) continue
      element.attributes = element.attributes.filter((one) => !isNamed(one, new Set([name])))
      element.attributes.push(createAttribute(name, value))
    }
  }
}

const isNamed = (attribute: Attribute, names: ReadonlySet<string>): boolean =>
  attribute.type === 'mdxJsxAttribute' && names.has(attribute.name)

function createAttribute(name: string, value: unknown): Attribute {
  const estree = {
    type: 'Program' as const,
    sourceType: 'module' as const,
    body: [{ type: 'ExpressionStatement' as const, expression: toExpression(value) }],
    comments: [],
  }
  return {
    type: 'mdxJsxAttribute',
    name,
    value: { type: 'mdxJsxAttributeValueExpression', value: JSON.stringify(value), data: { estree } },
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
