import type { Span } from '../diagnostics/diagnostic.ts'
import { describeEntry } from './describe-entry.ts'
import { describeField } from './describe-field.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning } from './find-meaning.ts'
import type { Position } from './look-at.ts'

/** What there is to say of a position. */
export interface Hover {
  readonly span: Span
  /** In Markdown. */
  readonly words: string
}

/** Describes what is at a position: a field, the entry that a reference or a link leads to, a file. */
export function hover(editorSite: EditorSite, position: Position): Hover | undefined {
  const meaning = findMeaning(editorSite, position)
  if (!meaning) return undefined
  const { span } = meaning
  switch (meaning.kind) {
    case 'entry':
      return { span, words: describeEntry(editorSite, meaning.entry) }
    case 'file':
      return { span, words: describeFile(editorSite, meaning.path) }
    default:
      return { span, words: describeField(meaning.name, meaning.field) }
  }
}

function describeFile({ site, root, model }: EditorSite, path: string): string {
  const answer = site.checked.asset(`/${path}`, '')
  if (!('facts' in answer)) return path
  const { sizeBytes, width, height } = answer.facts
  const size = `${Math.max(1, Math.round(sizeBytes / 1024))} KB`
  const picture = width && root ? `\n\n![](file://${encodeURI(`${root}/${model.content}/${path}`)})` : ''
  return `**${path}** · ${width && height ? `${width} × ${height}, ` : ''}${size}${picture}`
}
