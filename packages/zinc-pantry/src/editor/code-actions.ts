import { type Diagnostic, helpOf, messageOf, type Span } from '../diagnostics/diagnostic.ts'
import type { ChangeRequest } from '../engine/change-site.ts'
import { complete } from './complete.ts'
import type { EditorSite } from './editor-site.ts'
import type { EditedDocument } from './look-at.ts'

/** A text for a span of a document. */
export interface SpanEdit {
  readonly span: Span
  readonly text: string
}

/** Something that a writer can do about a problem. */
export interface CodeAction {
  readonly title: string
  readonly diagnostic: Diagnostic
  /** True for the one that is likely meant. */
  readonly isPreferred: boolean
  /** Edits of the document, or a change that is still to be planned and proved. */
  readonly effect: { readonly edits: readonly SpanEdit[] } | { readonly request: ChangeRequest }
}

/** What a writer can do about the problems of a document that touch a span. */
export function findCodeActions(
  editorSite: EditorSite,
  { file, text }: EditedDocument,
  [start, end]: Span,
): readonly CodeAction[] {
  const own = editorSite.site.report.diagnostics.filter(
    (one) => one.file === file && one.span[0] <= end && one.span[1] >= start,
  )
  return own.flatMap((diagnostic) => [
    ...offerFix(diagnostic),
    ...offerSuggestion(diagnostic, text),
    ...offerEntry(editorSite, diagnostic),
    ...offerMissing(editorSite, diagnostic, { file, text }),
  ])
}

function offerFix(diagnostic: Diagnostic): CodeAction[] {
  const { edit } = diagnostic
  if (!edit) return []
  const title = helpOf(diagnostic) ?? `Mend: ${messageOf(diagnostic)}`
  return [{ title, diagnostic, isPreferred: true, effect: { edits: [edit] } }]
}

/** The name that was probably meant, in the quotes of what is written. */
function offerSuggestion(diagnostic: Diagnostic, text: string): CodeAction[] {
  const { suggestion } = diagnostic.parameters
  if (typeof suggestion !== 'string' || diagnostic.edit) return []
  const { span } = diagnostic
  const written = text.slice(...span)
  const quote = /^(["']).*\1$/s.exec(written)?.[1] ?? ''
  const effect = { edits: [{ span, text: `${quote}${suggestion}${quote}` }] }
  return [{ title: `Write "${suggestion}"`, diagnostic, isPreferred: false, effect }]
}

/** The entry that a reference asks for. */
function offerEntry({ model }: EditorSite, diagnostic: Diagnostic): CodeAction[] {
  const { id, collection: name } = diagnostic.parameters
  const collection = model.collections.find((one) => one.name === name)
  if (diagnostic.code !== 'ref-dangling' || typeof id !== 'string' || !collection || collection.source) return []
  const request = { kind: 'new', collection: collection.name, name: id, values: [] } as const
  return [{ title: `Create ${collection.name}/${id}`, diagnostic, isPreferred: false, effect: { request } }]
}

/** The key of a value that must be there. */
function offerMissing(editorSite: EditorSite, diagnostic: Diagnostic, { file, text }: EditedDocument): CodeAction[] {
  if (diagnostic.code !== 'field-missing') return []
  const place = whereKeysGo(editorSite, { file, text }, diagnostic)
  const key = String(diagnostic.parameters.field ?? '')
    .split('.')
    .at(-1)
  if (!place) return []
  const put =
    place.before +
    (complete(editorSite, { file, text: place.text, offset: place.offset }, '').find(
      ({ label, kind }) => kind === 'key' && label === key,
    )?.text ?? '')
  if (put === place.before) return []
  return [
    {
      title: `Add "${key}"`,
      diagnostic,
      isPreferred: true,
      effect: { edits: [{ span: [place.at, place.at], text: put.replace(/\s+$/, '') + place.after }] },
    },
  ]
}

/** Where another key of front matter or of a file of YAML or TOML can stand: at the end of its data. */
function whereKeysGo(editorSite: EditorSite, { file, text }: EditedDocument, { parameters }: Diagnostic) {
  const format = editorSite.formatOf(file)
  if (String(parameters.field ?? '').includes('.')) return undefined
  const front = /^(?:---|\+\+\+)[ \t]*\r?\n/.exec(text)
  const isText = format === 'markdown' || format === 'mdx'
  if (isText ? !front : format !== 'yaml') return undefined
  const closing = front && isText ? /^(?:---|\.\.\.|\+\+\+)[ \t]*$/m.exec(text.slice(front[0].length)) : null
  const at = front && isText ? (closing ? front[0].length + closing.index : text.length) : text.length
  const [entry, second] = editorSite.entriesIn(editorSite.contentPath(file) ?? '')
  if (second || (entry && entry.recordPath.length > 0)) return undefined
  const before = at > 0 && text[at - 1] !== '\n' ? '\n' : ''
  return {
    at,
    before,
    after: '\n',
    text: `${text.slice(0, at)}${before}\n${text.slice(at)}`,
    offset: at + before.length,
  }
}
