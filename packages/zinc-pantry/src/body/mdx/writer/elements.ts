import type { Program } from 'estree'
import type { Element, Nodes, Root } from 'hast'
import { doubt } from '../doubt.ts'
import type { JsxElement } from '../visit.ts'
import { type WrittenProperty, writeKey, writeProperties } from './attributes.ts'
import { type Comment, readExpression, writeExpression } from './code.ts'

/** What the elements of a text use of its surroundings. */
export interface Uses {
  /** Names of elements for which a page may give components. */
  readonly tags: Set<string>
  /** Components, and objects that hold them, which a page has to give. */
  readonly given: Set<string>
  /** Names that have to be there; true for components, false for objects that hold them. */
  readonly wanted: Map<string, boolean>
  readonly comments: Comment[]
  readonly programs: Program[]
  hasFragments: boolean
  hasLists: boolean
}

export const createUses = (): Uses => ({
  tags: new Set(),
  given: new Set(),
  wanted: new Map(),
  comments: [],
  programs: [],
  hasFragments: false,
  hasLists: false,
})

/** Finds the statements of a text, which stand in front of its elements wherever they are written. */
export function findPrograms(node: Nodes): Program[] {
  if (node.type === 'mdxjsEsm') return node.data?.estree ? [node.data.estree] : []
  return 'children' in node ? node.children.flatMap((child) => findPrograms(child)) : []
}

const TABLE_ELEMENTS = new Set(['table', 'tbody', 'thead', 'tfoot', 'tr'])
const isBlank = (value: unknown): boolean => /^[ \t\n\f\r]*$/.test(String(value))

/** The code of all elements; that of a single one stands for itself. */
export function writeRoot(root: Root, uses: Uses, defined: ReadonlySet<string>): string {
  const shown = root.children.filter(isShown)
  while (isBlankNode(shown[0])) shown.shift()
  while (isBlankNode(shown.at(-1))) shown.pop()
  const [only] = shown
  const isSingle = shown.length === 1 && (only?.type === 'element' || (only && isJsx(only) && only.name !== null))
  const code = shown.flatMap((child) => write(child, isSingle ? 1 : 2) ?? [])
  if (isSingle) return code[0] as string
  uses.hasFragments = true
  return call('_Fragment', [], code, 1)

  function write(node: Nodes, at: number): string | undefined {
    switch (node.type) {
      case 'text':
        return node.value === '' ? undefined : JSON.stringify(node.value)
      case 'element':
        return writeElement(node, at)
      case 'mdxJsxFlowElement':
      case 'mdxJsxTextElement':
        return writeJsx(node as JsxElement, at)
      case 'mdxFlowExpression':
      case 'mdxTextExpression': {
        const expression = readExpression(node.data?.estree, uses.comments)
        return expression && writeExpression(expression, at)
      }
      case 'mdxjsEsm':
        return undefined
      default:
        return doubt('another kind of node')
    }
  }

  function writeElement(element: Element, at: number): string {
    const { tagName } = element
    if (!/^[a-z][a-z\d]*$/.test(tagName) || tagName === 'svg') doubt('another kind of element')
    const isTable = TABLE_ELEMENTS.has(tagName)
    const children = element.children.flatMap((child) =>
      isTable && child.type === 'text' && child.value === '\n' ? [] : (write(child, at + 1) ?? []),
    )
    uses.tags.add(tagName)
    return call(`_components.${tagName}`, writeProperties(element, at + 1), children, at)
  }

  function writeJsx(element: JsxElement, at: number): string {
    if (element.name === 'svg') doubt('a picture in code')
    const children = element.children.flatMap((child) => write(child as Nodes, at + 1) ?? [])
    return call(
      nameOf(element),
      element.attributes.map((one) => writeAttribute(one, at + 1)),
      children,
      at,
    )
  }

  function nameOf({ name, data }: JsxElement): string {
    if (name === null) {
      uses.hasFragments = true
      return '_Fragment'
    }
    if (name.includes(':')) return JSON.stringify(name)
    if (name.includes('.')) {
      const [object = ''] = name.split('.', 1)
      if (!/^[A-Z][\w$]*(?:\.[A-Za-z_$][\w$]*)+$/.test(name)) doubt('another kind of name')
      uses.wanted.set(name, true)
      if (!defined.has(object)) uses.given.add(object)
      return name
    }
    if (/^[A-Z_$][\w$]*$/.test(name)) {
      if (/^(?:_|MDX)/.test(name)) doubt('a name of the compiler')
      if (!defined.has(name)) {
        uses.wanted.set(name, true)
        uses.given.add(name)
      }
      return name
    }
    if (!(data as { _mdxExplicitJsx?: boolean } | undefined)?._mdxExplicitJsx) doubt('an element of a plugin')
    return JSON.stringify(name)
  }

  function writeAttribute(attribute: JsxElement['attributes'][number], at: number): WrittenProperty {
    const { value } = attribute
    if (attribute.type === 'mdxJsxExpressionAttribute') {
      const object = readExpression(attribute.data?.estree, uses.comments)
      const spread = object?.type === 'ObjectExpression' ? object.properties[0] : undefined
      if (spread?.type !== 'SpreadElement' || spread.argument.type === 'ObjectExpression') return doubt('a spread')
      return { name: undefined, value: `...${writeExpression(spread.argument, at)}` }
    }
    const { name } = attribute
    if (name === 'key') doubt('a key')
    if (value === null || value === undefined) return { name, value: 'true' }
    if (typeof value === 'string') return { name, value: JSON.stringify(value) }
    const expression = readExpression(value.data?.estree, uses.comments)
    if (!expression) return doubt('an attribute without a value')
    return { name, value: writeExpression(expression, at) }
  }

  function call(name: string, properties: readonly WrittenProperty[], children: readonly string[], at: number): string {
    const pad = '  '.repeat(at)
    const lines = properties.map(({ name: key, value }) => (key === undefined ? value : `${writeKey(key)}: ${value}`))
    if (children.length > 1) {
      uses.hasLists = true
      lines.push(`children: [${children.join(', ')}]`)
    } else if (children.length === 1) lines.push(`children: ${children[0]}`)
    const fields = lines.length === 0 ? '{}' : `{\n${lines.map((line) => `${pad}  ${line}`).join(',\n')}\n${pad}}`
    return `${children.length > 1 ? '_jsxs' : '_jsx'}(${name}, ${fields})`
  }
}

const isJsx = (node: Nodes): node is Nodes & JsxElement =>
  node.type === 'mdxJsxFlowElement' || node.type === 'mdxJsxTextElement'

type Child = Root['children'][number]

const statementOf = (node: Child | undefined): Program['body'][number] | undefined =>
  node?.type === 'mdxFlowExpression' || node?.type === 'mdxTextExpression' ? node.data?.estree?.body[0] : undefined

/** True for what is more than statements; a comment is no text without letters. */
const isShown = (node: Child): boolean => (node.type === 'text' ? node.value !== '' : node.type !== 'mdxjsEsm')

/** True for text, and for an expression of nothing but text, without a letter. */
function isBlankNode(node: Child | undefined): boolean {
  if (node?.type === 'text') return isBlank(node.value)
  const statement = statementOf(node)
  return (
    statement?.type === 'ExpressionStatement' &&
    statement.expression.type === 'Literal' &&
    isBlank(statement.expression.value)
  )
}
