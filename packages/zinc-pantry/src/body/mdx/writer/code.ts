import { generate } from 'astring'
import type { Expression, Program, Statement } from 'estree'
import { appendAll } from '../../../diagnostics/append-all.ts'
import { doubt } from '../doubt.ts'
import { walkCode } from '../walk-code.ts'

/** The code of an expression as it is in a tree, at a depth of indentation. */
export function writeExpression(expression: Expression, depth: number): string {
  return generate(expression as never, { startingIndentLevel: depth })
}

/** The code of a statement that stands at the top. */
export const writeStatement = (statement: Statement): string => generate(statement as never)

/** Code in braces; nothing where it holds but comments, which are told. */
export function readExpression(program: Program | null | undefined, comments: Comment[]): Expression | undefined {
  if (!program) return undefined
  const [statement] = program.body
  if (!statement) {
    appendAll(comments, program.comments ?? [])
    return undefined
  }
  assertPlain(program)
  if (statement.type !== 'ExpressionStatement') return doubt('a statement in braces')
  return statement.expression
}

/** A comment of code. */
export type Comment = NonNullable<Program['comments']>[number]

/** What the compiler makes of elements within code, of comments, of `await` and of `import` is the compiler's. */
export function assertPlain(program: Program): void {
  if (program.comments && program.comments.length > 0) doubt('comments in code')
  walkCode(program, (node) => {
    if (/^JSX|^Import(?!Declaration|.*Specifier)|^AwaitExpression$|^MetaProperty$/.test(node.type))
      doubt('code with elements')
    if (node.type === 'ForOfStatement' && node.await) doubt('code that waits')
  })
}

/** The comments of a whole text, as they stand in front of its code. */
export const writeComments = (comments: readonly Comment[]): string =>
  comments.length === 0
    ? ''
    : generate({ type: 'Program', sourceType: 'module', body: [], comments: [...comments] } as never, {
        comments: true,
      })
