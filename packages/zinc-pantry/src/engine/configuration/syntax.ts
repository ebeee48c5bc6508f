import type { ESTree } from 'rolldown/utils'

/** A part of the syntax of a configuration. */
export type Node = ESTree.Node
export type Body = ESTree.Program['body']
export type Call = Extract<Node, { type: 'CallExpression' }>
export type ObjectNode = Extract<Node, { type: 'ObjectExpression' }>

/** Parses a text of JavaScript or TypeScript; what does not parse has no statements. */
export async function createParser(): Promise<(text: string) => Body> {
  const { parseSync } = await import('rolldown/utils')
  return (text) => parseSync('pantry.config.ts', text, { lang: 'ts', sourceType: 'module' }).program.body
}

/** The first call of `pantry`, wherever it stands at the top level. */
export function findCall(body: Body): Call | undefined {
  for (const statement of body) {
    const candidates: (Node | null | undefined)[] =
      statement.type === 'ExportDefaultDeclaration'
        ? [statement.declaration]
        : declarationsOf(statement).map((declared) => declared.init)
    for (const candidate of candidates) {
      const node = candidate && unwrap(candidate)
      if (node?.type === 'CallExpression' && calleeOf(node) === 'pantry') return node
    }
  }
  return undefined
}

/** The name of what a call calls; empty where it is no plain name. */
export const calleeOf = ({ callee }: Call): string => (callee.type === 'Identifier' ? callee.name : '')

type Declarator = Extract<Node, { type: 'VariableDeclarator' }>

function declarationsOf(statement: Node): readonly Declarator[] {
  const inner = statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement
  return inner?.type === 'VariableDeclaration' ? inner.declarations : []
}

/** The value of a constant of a file. */
export function constantOf(name: string, body: Body): Node | undefined {
  for (const statement of body)
    for (const { id, init } of declarationsOf(statement))
      if (id.type === 'Identifier' && id.name === name && init) return unwrap(init)
  return undefined
}

/** The expression inside `as const`, `satisfies T` and parentheses. */
export function unwrap(node: Node): Node {
  if (
    node.type === 'TSAsExpression' ||
    node.type === 'TSSatisfiesExpression' ||
    node.type === 'ParenthesizedExpression'
  )
    return unwrap(node.expression)
  return node
}

/** The name of a key of an object, where it is written out. */
export function nameOfKey({ key, computed }: { readonly key: Node; readonly computed: boolean }): string | undefined {
  if (key.type === 'Identifier' && !computed) return key.name
  return key.type === 'Literal' ? String(key.value) : undefined
}

type Member = Extract<Node, { type: 'MemberExpression' }>

/** A property that is read by its name. */
export interface NamedMember {
  readonly object: Node
  readonly property: { readonly name: string; readonly start: number; readonly end: number }
}

/** All properties that are read by their names, at any depth. */
export function membersIn(body: Body): readonly NamedMember[] {
  const found: NamedMember[] = []
  const visit = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return
    const { type, computed, object, property } = value as Partial<Member>
    if (type === 'MemberExpression' && !computed && object && property?.type === 'Identifier')
      found.push({ object, property })
    for (const inner of Object.values(value)) visit(inner)
  }
  visit(body)
  return found
}
