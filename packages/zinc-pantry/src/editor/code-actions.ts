import type { TextEdit } from '../change/edited-source.ts'
import { fieldOf } from '../change/model-names.ts'
import { type Diagnostic, helpOf, messageOf, type Span } from '../diagnostics/diagnostic.ts'
import type { ChangeRequest } from '../engine/change-request.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { Surrounding } from './configuration-names.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning, type Meaning } from './find-meaning.ts'
import type { EditedDocument } from './look-at.ts'
import { addKeys, findMissingKeys, type Lacking, type MissingKey } from './missing-keys.ts'

/** Something that a writer can do. */
export interface CodeAction {
  readonly title: string
  /** The problem that it is about; undefined for what can be done without one. */
  readonly diagnostic: Diagnostic | undefined
  /** True for the one that is likely meant. */
  readonly isPreferred: boolean
  /** Edits of the document, or a change that is still to be planned and proved. */
  readonly effect: { readonly edits: readonly TextEdit[] } | { readonly request: ChangeRequest }
}

/** What a writer can do about the problems of a document that touch a span, and with what stands at its start. */
export async function findCodeActions(
  editorSite: EditorSite,
  { file, text }: EditedDocument,
  { span: [start, end], around }: { readonly span: Span; readonly around: Surrounding },
): Promise<readonly CodeAction[]> {
  const own = editorSite.site.report.diagnostics.filter(
    (one) => one.file === file && one.span[0] <= end && one.span[1] >= start,
  )
  const isLacking = own.some(({ code }) => code === 'field-missing')
  const lacking = isLacking ? findMissingKeys(editorSite, { file, text }) : undefined
  const actions = own.flatMap((diagnostic) => [
    ...offerFix(diagnostic),
    ...offerSuggestion(diagnostic, text),
    ...offerEntry(editorSite, diagnostic),
    ...offerMissing(diagnostic, lacking),
  ])
  const meaning = await findMeaning(editorSite, { file, text, offset: start }, around)
  const all = [...actions, ...offerRecords(editorSite, meaning)]
  return [...new Map(all.toReversed().map((one) => [one.title, one])).values()].toReversed()
}

/** Records of the labels that a field has, which entries then refer to. */
function offerRecords({ model }: EditorSite, meaning: Meaning | undefined): CodeAction[] {
  if (meaning?.kind !== 'symbol' || !meaning.field) return []
  const [path = ''] = meaning.symbol.split('=')
  const [, collection, name] = /^collections\.([^.]+)\.fields\.([^.]+)$/.exec(path) ?? []
  const field = collection === undefined ? undefined : fieldOf(model, `collections.${collection}`, [name ?? ''])?.field
  const label = field?.kind === 'list' ? childrenOf(field).item : field
  const isFree = name !== undefined && !model.collections.some((one) => one.name === name)
  if (!isFree || (label?.kind !== 'text' && label?.kind !== 'choice')) return []
  const request = { kind: 'extract', target: `${collection}.${name}`, to: name, same: [] } as const
  return [
    {
      title: `Make records of the labels in ${collection}.${name}`,
      diagnostic: undefined,
      isPreferred: false,
      effect: { request },
    },
  ]
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

/** The key of a value that must be there, and all that the document lacks. */
function offerMissing(diagnostic: Diagnostic, lacking: Lacking | undefined): CodeAction[] {
  if (diagnostic.code !== 'field-missing' || !lacking) return []
  const { span } = diagnostic
  const name = String(diagnostic.parameters.field ?? '')
  const own = lacking.keys.find((one) => one.key === name.split('.').at(-1) && one.span.join() === span.join())
  const action = (title: string, keys: readonly MissingKey[], isPreferred: boolean): CodeAction[] => {
    const edit = addKeys(lacking, keys)
    return edit ? [{ title, diagnostic, isPreferred, effect: { edits: [edit] } }] : []
  }
  return [
    ...(own ? action(`Add "${own.key}"`, [own], true) : []),
    ...(own && lacking.keys.length > 1
      ? action(`Add all ${lacking.keys.length} keys that are missing`, lacking.keys, false)
      : []),
  ]
}
