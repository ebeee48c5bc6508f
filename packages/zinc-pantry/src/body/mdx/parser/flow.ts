import type { MdxFlowExpression, MdxjsEsm } from 'mdast-util-mdx'
import { appendAll } from '../../../diagnostics/append-all.ts'
import { doubt } from '../doubt.ts'
import type { Document } from './document.ts'
import type { Found } from './found.ts'
import { readCode, readStatements } from './javascript.ts'
import { readTag, type Tag } from './tags.ts'
import { skipSpaces, type View } from './view.ts'

/** A tag or an expression among blocks. */
export type FlowPart =
  | { readonly kind: 'tag'; readonly tag: Tag }
  | { readonly kind: 'expression'; readonly node: MdxFlowExpression }

/** Reads tags and expressions with nothing else on their lines; nothing where a text follows. */
export function readFlow(view: View, first: number): { parts: FlowPart[]; next: number } | undefined {
  const { text } = view
  const limit = text.length
  const parts: FlowPart[] = []
  for (let at = first; ; ) {
    const code = text.charCodeAt(at)
    if (code === 60) {
      const tag = readTag(view, at, limit)
      if (!tag) return undefined
      parts.push({ kind: 'tag', tag })
      at = tag.end
    } else if (code === 123) {
      const { value, estree, end } = readCode(view, at, limit, 'expression')
      const position = view.position(at, end)
      parts.push({ kind: 'expression', node: { type: 'mdxFlowExpression', value, position, data: { estree } } })
      at = end
      // Behind an expression only a tag may follow.
      if (text.charCodeAt(skipSpaces(text, at, limit)) === 123) return undefined
    } else return undefined
    at = skipSpaces(text, at, limit)
    const last = view.lineAt(at)
    for (let line = view.lineAt(first); line <= last; line++) if (view.line(line).isLazy) doubt('code that goes on')
    if (at >= limit || text.charCodeAt(at) === 10) return { parts, next: last + 1 }
  }
}

/** Reads statements that import and export, up to a blank line, or beyond where they go on. */
export function readModule(view: View, line: number, document: Document): Found<MdxjsEsm> | undefined {
  const { start } = view.line(line)
  if (!view.text.startsWith('import ', start) && !view.text.startsWith('export ', start)) return undefined
  for (let at = line; at < view.lines.length; at++) {
    const { end } = view.line(at)
    const next = view.lines[at + 1]
    if (next && skipSpaces(view.text, next.start, next.end) < next.end) continue
    const statements = readStatements(view, start, end, document.imported)
    if (!statements) continue
    appendAll(document.imported, statements.names)
    const { value, estree } = statements
    const node: MdxjsEsm = { type: 'mdxjsEsm', value, position: view.position(start, end), data: { estree } }
    return { node, next: at + 1 }
  }
  return doubt('statements without an end')
}
