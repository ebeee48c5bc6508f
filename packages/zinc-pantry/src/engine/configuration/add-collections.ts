import type { TextEdit } from '../../change/edited-source.ts'
import { createParser, findCall, type Node, nameOfKey, unwrap } from './syntax.ts'

/** Collections that come into a configuration. */
export interface AddedCollections {
  /** The lines of each, without indentation of their own. */
  readonly lines: readonly string[]
  /** The constructors that they use. */
  readonly constructors: readonly string[]
}

/** The edits of the text of a configuration that bring collections into it; undefined where a person has to do it. */
export async function addCollections(
  text: string,
  { lines, constructors }: AddedCollections,
): Promise<readonly TextEdit[] | undefined> {
  const body = (await createParser())(text)
  const [first] = findCall(body)?.arguments ?? []
  const collections = first && propertyOf(unwrap(first), 'collections')
  const imported = body.find((one) => one.type === 'ImportDeclaration' && one.source.value === 'zinc-pantry')
  const last = collections?.properties.at(-1)
  if (!last || imported?.type !== 'ImportDeclaration') return undefined
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n'
  const indent = indentOf(text, last.start)
  const [comma] = /^\s*,/.exec(text.slice(last.end)) ?? []
  const at = last.end + (comma?.length ?? 0)
  const block = lines.map((line) => `${lineEnd}${line === '' ? '' : indent}${line}`).join('')
  const edits: TextEdit[] = [{ span: [at, at], text: (comma === undefined ? ',' : '') + block }]
  const known = imported.specifiers.map(({ local }) => local.name)
  const missing = constructors.filter((name) => !known.includes(name))
  const end = imported.specifiers.at(-1)?.end
  if (missing.length === 0 || end === undefined) return edits
  const isApart = text.slice(imported.start, end).includes('\n')
  const names = missing.map((name) => (isApart ? `,${lineEnd}${indentOf(text, end)}${name}` : `, ${name}`)).join('')
  return [{ span: [end, end], text: names }, ...edits]
}

function propertyOf(node: Node, name: string): Extract<Node, { type: 'ObjectExpression' }> | undefined {
  if (node.type !== 'ObjectExpression') return undefined
  for (const property of node.properties) {
    if (property.type !== 'Property' || nameOfKey(property) !== name) continue
    const value = unwrap(property.value)
    return value.type === 'ObjectExpression' ? value : undefined
  }
  return undefined
}

const indentOf = (text: string, offset: number): string =>
  /^[ \t]*/.exec(text.slice(text.lastIndexOf('\n', offset - 1) + 1))?.[0] ?? ''
