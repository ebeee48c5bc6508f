import type { Program } from 'estree'
import type { MdxJsxAttribute } from 'mdast-util-mdx'
import type { Span } from '../../diagnostics/diagnostic.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import type { BlockUse, PropertyPlace } from '../body-summary.ts'
import { componentName } from '../component-name.ts'
import { literalOf, NOT_LITERAL } from './literal.ts'
import { isJsx, type JsxElement, type Nodes, spanOf, visit } from './visit.ts'

/** A component that nothing gives. */
export interface UnknownComponent {
  readonly name: string
  readonly suggestion: string | undefined
  readonly known: readonly string[]
  readonly span: Span
}

/** True for a component that only the site can give: neither the text itself nor an object has it. */
const isSiteComponent = (node: JsxElement, own: ReadonlySet<string>): boolean =>
  /^[A-Z]/.test(node.name ?? '') && !node.name?.includes('.') && !own.has(node.name ?? '')

/** The elements that are components of the site, in order. */
export function siteComponents(nodes: Nodes): { elements: JsxElement[]; own: ReadonlySet<string> } {
  const own = definedNames(nodes)
  const elements: JsxElement[] = []
  visit(nodes, (node) => {
    if (isJsx(node) && isSiteComponent(node, own)) elements.push(node)
  })
  return { elements, own }
}

/** The components that a text may use. */
export interface AllowedComponents {
  readonly blocks: readonly string[]
  /** True where it may use any other, too. */
  readonly takesAny: boolean
}

/** The blocks that a text uses as components, and the components that are none. */
export function findComponents(
  nodes: Nodes,
  { blocks, takesAny }: AllowedComponents,
): { uses: BlockUse[]; unknown: UnknownComponent[] } {
  const byName = new Map(blocks.map((block) => [componentName(block), block]))
  const { elements, own } = siteComponents(nodes)
  const uses: BlockUse[] = []
  const unknown: UnknownComponent[] = []
  for (const node of elements) {
    const name = node.name ?? ''
    // Of one that is no block the name is that of the component itself.
    const block = byName.get(name) ?? (takesAny ? name : undefined)
    const [start] = spanOf(node)
    const span: Span = [start + 1, start + 1 + name.length]
    const known = [...byName.keys()]
    if (block === undefined) unknown.push({ name, suggestion: suggestNearest(name, [...known, ...own]), known, span })
    else uses.push(createUse(node, { name, block, span }))
  }
  return { uses, unknown }
}

function createUse(element: JsxElement, head: { name: string; block: string; span: Span }): BlockUse {
  const attributes = element.attributes.filter((one) => one.type === 'mdxJsxAttribute')
  const values: Record<string, unknown> = {}
  const open: string[] = []
  for (const attribute of attributes) {
    const value = readValue(attribute)
    if (value === NOT_LITERAL) open.push(attribute.name)
    else values[attribute.name] = value
  }
  const hasSpread = attributes.length < element.attributes.length
  return {
    ...head,
    values,
    hasCells: false,
    open: hasSpread ? 'all' : open,
    places: attributes.map(placeAttribute),
  }
}

function placeAttribute(attribute: MdxJsxAttribute): PropertyPlace {
  const { name, value } = attribute
  const [start, end] = spanOf(attribute)
  const key: Span = [start, start + name.length]
  if (value === null || value === undefined) return { name, key, value: key }
  const length = (typeof value === 'string' ? value : value.value).length + 1
  return { name, key, value: [end - length, end - 1] }
}

function readValue({ value }: MdxJsxAttribute): unknown {
  if (value === null || value === undefined) return true
  if (typeof value === 'string') return value
  const statement = value.data?.estree?.body[0]
  return statement?.type === 'ExpressionStatement' ? literalOf(statement.expression) : NOT_LITERAL
}

/** Names that the text itself imports or defines. */
function definedNames(nodes: Nodes): Set<string> {
  const names = new Set<string>()
  visit(nodes, (node) => {
    if (node.type === 'mdxjsEsm') for (const name of namesIn(node.data?.estree)) names.add(name)
  })
  return names
}

function namesIn(program: Program | null | undefined): string[] {
  return (program?.body ?? []).flatMap((statement): string[] => {
    if (statement.type === 'ImportDeclaration') return statement.specifiers.map(({ local }) => local.name)
    const declaration = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement
    if (declaration?.type === 'FunctionDeclaration' || declaration?.type === 'ClassDeclaration')
      return declaration.id ? [declaration.id.name] : []
    if (declaration?.type !== 'VariableDeclaration') return []
    return declaration.declarations.flatMap(({ id }) => (id.type === 'Identifier' ? [id.name] : []))
  })
}
