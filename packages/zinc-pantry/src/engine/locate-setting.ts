import type { Node } from '@babel/types'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { SettingStep } from '../schema/settings-reader.ts'

/**
 * The place of a setting in the text of a configuration: as far along its path as the text shows. A
 * part that comes from elsewhere, such as a spread or an import, is shown where it is used.
 */
export async function locateSetting(text: string, path: readonly SettingStep[]): Promise<Span> {
  const { parse } = await import('@babel/parser')
  let body: readonly Node[]
  try {
    body = parse(text, { sourceType: 'module', plugins: ['typescript'], errorRecovery: true }).program.body
  } catch {
    return [0, 1]
  }
  const call = findCall(body)
  if (!call) return [0, 1]
  let place: Node = call.callee
  let at: Node | undefined = call.arguments[0]
  for (const step of path) {
    const found: Found | undefined = at ? descend(resolveName(at, body), step, body) : undefined
    if (!found) break
    place = found.place
    at = found.value
  }
  return [place.start ?? 0, place.end ?? 1]
}

type Call = Extract<Node, { type: 'CallExpression' }>

/** The first call of `pantry`, wherever it stands at the top level. */
function findCall(body: readonly Node[]): Call | undefined {
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

function declarationsOf(statement: Node): Declarator[] {
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

/** What a name stands for, where it is a constant of this file. */
function resolveName(node: Node, body: readonly Node[]): Node {
  const inner = unwrap(node)
  if (inner.type !== 'Identifier') return inner
  for (const statement of body)
    for (const { id, init } of declarationsOf(statement))
      if (id.type === 'Identifier' && id.name === inner.name && init) return unwrap(init)
  return inner
}

interface Found {
  /** What is pointed at. */
  readonly place: Node
  /** Where the next step goes on. */
  readonly value: Node
}

function descend(node: Node, step: SettingStep, body: readonly Node[]): Found | undefined {
  if (node.type === 'ObjectExpression') return inObject(node, String(step), body)
  if (node.type === 'ArrayExpression') {
    const item = typeof step === 'number' ? node.elements[step] : undefined
    return item ? { place: item, value: item } : undefined
  }
  return node.type === 'CallExpression' ? inFieldCall(node, String(step), body) : undefined
}

function inObject(
  node: Extract<Node, { type: 'ObjectExpression' }>,
  step: string,
  body: readonly Node[],
): Found | undefined {
  let spread: Found | undefined
  for (const property of node.properties) {
    if (property.type === 'SpreadElement') {
      const inside = descend(resolveName(property.argument, body), step, body)
      if (inside) spread = inside
      continue
    }
    const { key } = property
    const name =
      key.type === 'Identifier' && !property.computed ? key.name : key.type === 'StringLiteral' ? key.value : undefined
    if (name !== step) continue
    return { place: key, value: property.type === 'ObjectProperty' ? property.value : key }
  }
  return spread
}

/** In `list(item, options)` and `group(fields, options)` the first argument holds more fields. */
function inFieldCall(call: Call, step: string, body: readonly Node[]): Found | undefined {
  const [first] = call.arguments
  const callee = call.callee.type === 'Identifier' ? call.callee.name : ''
  if (callee === 'list' && step === 'item' && first) return { place: first, value: first }
  for (const argument of [...call.arguments].reverse()) {
    const found = descend(resolveName(argument, body), step, body)
    if (found) return found
  }
  return undefined
}
