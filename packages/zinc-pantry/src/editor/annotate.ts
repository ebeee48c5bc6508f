import { labelOf } from '../change/entry-choices.ts'
import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { isGroup } from '../diagnostics/own-key.ts'
import { qualifiedId } from '../link/pages.ts'
import type { EditorSite } from './editor-site.ts'
import { type EditedDocument, linksIn } from './look-at.ts'
import { readParts } from './written-parts.ts'

/** A part of a document that leads somewhere. */
export interface DocumentLink {
  readonly span: Span
  readonly target: Place
  readonly words: string
}

/** The references, links and files of a document that lead somewhere, as it was checked last. */
export function findDocumentLinks(editorSite: EditorSite, { file, text }: EditedDocument): readonly DocumentLink[] {
  const { model, site, find } = editorSite
  const inBody = linksIn(editorSite, file).flatMap(({ href, span, entry }): DocumentLink[] => {
    const target = site.checked.resolveLink(href, entry)
    if (target.kind === 'asset')
      return [{ span, target: { file: `${model.content}/${target.file}`, span: [0, 0] }, words: target.file }]
    const page = 'page' in target ? find(target.page) : undefined
    return page ? [{ span, target: page.locate([]), words: qualifiedId(page) }] : []
  })
  return [
    ...referencesIn(editorSite, file).map(({ span, entry }) => ({
      span,
      target: entry.locate([]),
      words: qualifiedId(entry),
    })),
    ...filesIn(editorSite, { file, text }),
    ...inBody,
  ]
}

/** The files that fields of a document name. */
function filesIn(editorSite: EditorSite, { file, text }: EditedDocument): DocumentLink[] {
  const { model, site, contentPath } = editorSite
  const read = readParts(editorSite, { file, text })
  return (read?.records ?? []).flatMap(({ fields }) =>
    fields.flatMap(({ field, value, path }): DocumentLink[] => {
      const isWhole = typeof value === 'string'
      const name = isWhole ? value : isGroup(value) ? value.file : undefined
      if ((field.kind !== 'image' && field.kind !== 'file') || typeof name !== 'string' || !read) return []
      const answer = site.checked.asset(name, contentPath(file) ?? '')
      if (!('facts' in answer)) return []
      const words = answer.facts.file
      const span = read.document.locate(isWhole ? path : [...path, 'file'], 'value')
      return [{ span, target: { file: `${model.content}/${words}`, span: [0, 0] }, words }]
    }),
  )
}

/** The label of an entry beside a reference that says something else. */
export interface InlayLabel {
  /** Behind the reference. */
  readonly offset: number
  readonly label: string
}

/** The labels of the entries that the references of a document lead to. */
export function findInlayLabels(
  editorSite: EditorSite,
  { file, text }: { readonly file: string; readonly text: string },
): readonly InlayLabel[] {
  const collections = new Map(editorSite.model.collections.map((one) => [one.name, one]))
  return referencesIn(editorSite, file).flatMap(({ span, entry }): InlayLabel[] => {
    const collection = collections.get(entry.collection)
    const label = collection ? labelOf(entry, collection) : entry.id
    const written = text.slice(...span).replace(/^["']|["']$/g, '')
    return label === written || written.includes('\n') ? [] : [{ offset: span[1], label }]
  })
}

function referencesIn({ entriesIn, contentPath, find }: EditorSite, file: string) {
  return entriesIn(contentPath(file) ?? '').flatMap((entry) =>
    entry.links.flatMap((link) => {
      const target = find({ ...link, locale: entry.locale }) ?? find({ ...link, locale: undefined })
      const place = entry.locate(link.path)
      return target && place.file === file ? [{ span: place.span, entry: target }] : []
    }),
  )
}
