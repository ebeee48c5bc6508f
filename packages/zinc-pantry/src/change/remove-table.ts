import type { PathSegment } from '../read/document.ts'
import { spanOfTomlTable } from '../read/toml-places.ts'
import type { EditedSource, TextEdit } from './edited-source.ts'

/**
 * The edit that most likely takes a table out of a TOML text, with the lines that it has and the empty ones behind it; undefined where
 * it is no table. Comments above it stay. It is still to be proved.
 */
export function proposeTableRemoval({ text }: EditedSource, path: readonly PathSegment[]): TextEdit | undefined {
  const span = spanOfTomlTable(text, path)
  if (!span) return undefined
  const [start, end] = span
  const behind = /^[^\n]*(?:\n[ \t\r]*(?=\n|$))*\n?/.exec(text.slice(end))?.[0].length ?? 0
  const stop = end + behind
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  if (stop < text.length) return { span: [lineStart, stop], text: '' }
  // The last one of a file leaves no empty line at its end.
  const head = text.slice(0, lineStart)
  const from = head.trimEnd().length
  return { span: [from, stop], text: /^\r?\n/.exec(head.slice(from))?.[0] ?? '' }
}
