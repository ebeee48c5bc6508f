import type { ImportDeclaration, ObjectPattern, Program, Property, Statement, VariableDeclarator } from 'estree'
import { appendAll } from '../../../diagnostics/append-all.ts'
import { doubt } from '../doubt.ts'
import { assertPlain, writeStatement } from './code.ts'

/** The statements of a text, as code of a function. */
export interface WrittenStatements {
  readonly lines: readonly string[]
  /** What the text exports. */
  readonly exported: readonly string[]
  /** The names that its statements define. */
  readonly defined: ReadonlySet<string>
  readonly hasImports: boolean
}

/** Writes imports as calls, and what is exported as plain declarations. */
export function writeStatements(programs: readonly Program[]): WrittenStatements {
  const lines: string[] = []
  const exported: string[] = []
  const defined = new Set<string>()
  let hasImports = false
  for (const program of programs) {
    assertPlain(program)
    for (const statement of program.body) {
      if (statement.type === 'ImportDeclaration') {
        hasImports = true
        for (const { local } of statement.specifiers) defined.add(local.name)
        lines.push(writeStatement(importCall(statement)))
      } else if (statement.type === 'ExportNamedDeclaration' && statement.declaration) {
        const names = namesOf(statement.declaration)
        appendAll(exported, names)
        for (const name of names) defined.add(name)
        lines.push(writeStatement(statement.declaration))
      } else doubt('another kind of statement')
    }
  }
  return { lines, exported, defined, hasImports }
}

function namesOf(declaration: Statement): string[] {
  if (declaration.type === 'FunctionDeclaration') return [declaration.id.name]
  if (declaration.type !== 'VariableDeclaration') return doubt('another kind of declaration')
  return declaration.declarations.map(({ id }) => (id.type === 'Identifier' ? id.name : doubt('a pattern of names')))
}

/** `import { a } from 'b'` as `const {a} = await import(_resolveDynamicMdxSpecifier('b'))`. */
function importCall({ specifiers, source, attributes }: ImportDeclaration): Statement {
  if (attributes && attributes.length > 0) doubt('attributes of an import')
  const init = {
    type: 'AwaitExpression' as const,
    argument: {
      type: 'ImportExpression' as const,
      source: {
        type: 'CallExpression' as const,
        callee: { type: 'Identifier' as const, name: '_resolveDynamicMdxSpecifier' },
        arguments: [source],
        optional: false,
      },
    },
  }
  if (specifiers.length === 0) return { type: 'ExpressionStatement', expression: init }
  const properties = specifiers.map((specifier): Property => {
    if (specifier.type === 'ImportNamespaceSpecifier') return doubt('an import of all')
    const key =
      specifier.type === 'ImportSpecifier' ? specifier.imported : { type: 'Identifier' as const, name: 'default' }
    if (key.type !== 'Identifier') return doubt('a name in quotes')
    const shorthand = key.name === specifier.local.name
    return { type: 'Property', kind: 'init', method: false, computed: false, shorthand, key, value: specifier.local }
  })
  const declarator: VariableDeclarator = {
    type: 'VariableDeclarator',
    id: { type: 'ObjectPattern', properties } as ObjectPattern,
    init,
  }
  return { type: 'VariableDeclaration', kind: 'const', declarations: [declarator] }
}
