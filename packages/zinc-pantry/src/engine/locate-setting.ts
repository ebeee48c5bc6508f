import type { ESTree } from 'rolldown/utils'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { SettingStep } from '../schema/settings-reader.ts'

/**
 * The place of a setting in the text of a configuration: as far along its path as the text shows. A
 * part that comes from elsewhere, such as a spread or an import, is shown where it is used.
 */
export async function locateSetting(text: string, path: readonly SettingStep[]): Promise<Span> {
  const { parseSync } = await import('rolldown/utils')
  const { body } = parseSync('pantry.config.ts', text, { lang: 'ts', sourceType: 'module' }).program
  const call = findCall(body)
  if (!call) return [0, 1]
  let place: Node = call.callee
  let at: Node | undefined = call.arguments[0]
  for (const step of path) {
    const found: FoundNode | undefined = at ? descend(resolveName(at, body), step, body) : undefined
    if (!found) break
    place = found.place
    at = found.value
  }
  return [place.start, place.end]
}

type Node = ESTree.Node
type Body = ESTree.Program['body']
type Call = Extract<Node, { type: 'CallExpression' }>

/** The first call of `pantry`, wherever it stands at the top level. */
function findCall(body: Body): Call | undefined {
  for (const statement of body) {
    const candidates: (Node | null | undefined)[] =
      statement.type === 'ExportDefaultDeclaration'
        ? [statement.declaration]
        : declarationsOf(statement).map((declared) => declared.init)
    for (const candidate of candidates) {
      const node = candidate && unwrap(candidate)
      if (node?.type === 'CallExpression' && node.callee.type === 'Identifier' && node.callee.name === 'pantry')
        return node
    }
  }
  return undefined
}

type Declarator = Extract<Node, { type: 'VariableDeclarator' }>

function declarationsOf(statement: Node): readonly Declarator[] {
  const inner = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement
  return inner?.type === 'VariableDeclaration' ? inner.declarations : []
}

/** The expression inside `as const`, `satisfies T` and parentheses. */
function unwrap(node: Node): Node {
  if (
    node.type === 'TSAsExpression' ||
    node.type === 'TSSatisfiesExpression' ||
    node.type === 'ParenthesizedExpression'
  )
    return unwrap(node.expression)
  return node
}

/** The value of a name, where it is a constant of this file. */
function resolveName(node: Node, body: Body): Node {
  const inner = unwrap(node)
  if (inner.type !== 'Identifier') return inner
  for (const statement of body)
    for (const { id, init } of declarationsOf(statement))
      if (id.type === 'Identifier' && id.name === inner.name && init) return unwrap(init)
  return inner
}

interface FoundNode {
  /** The node that is pointed at. */
  readonly place: Node
  /** Where the next step goes on. */
  readonly value: Node
}

function descend(node: Node, step: SettingStep, body: Body): FoundNode | undefined {
  if (node.type === 'ObjectExpression') return inObject(node, String(step), body)
  if (node.type === 'ArrayExpression') {
    const item = typeof step === 'number' ? node.elements[step] : undefined
    return item ? { place: item, value: item } : undefined
  }
  return node.type === 'CallExpression' ? inFieldCall(node, String(step), body) : undefined
}

function inObject(node: Extract<Node, { type: 'ObjectExpression' }>, step: string, body: Body): FoundNode | undefined {
  let spread: FoundNode | undefined
  for (const property of node.properties) {
    if (property.type === 'SpreadElement') {
      const inside = descend(resolveName(property.argument, body), step, body)
      if (inside) spread = inside
      continue
    }
    const { key, computed, value, method } = property
    const name =
      key.type === 'Identifier' && !computed ? key.name : key.type === 'Literal' ? String(key.value) : undefined
    if (name === step) return { place: key, value: method ? key : value }
  }
  return spread
}

/** In `list(item, options)` and `group(fields, options)` the first argument holds more fields. */
function inFieldCall(call: Call, step: string, body: Body): FoundNode | undefined {
  const [first] = call.arguments
  const callee = call.callee.type === 'Identifier' ? call.callee.name : ''
  if (callee === 'list' && step === 'item' && first) return { place: first, value: first }
  for (const argument of [...call.arguments].reverse()) {
    const found = descend(resolveName(argument, body), step, body)
    if (found) return found
  }
  return undefined
}
