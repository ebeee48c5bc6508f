import { labelOf } from '../change/entry-choices.ts'
import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { qualifiedId } from '../link/pages.ts'
import type { EditorSite } from './editor-site.ts'
import { linksIn } from './look-at.ts'

/** A part of a document that leads somewhere. */
export interface DocumentLink {
  readonly span: Span
  readonly target: Place
  readonly words: string
}

/** The references, links and files of a document that lead somewhere, as it was checked last. */
export function findDocumentLinks(editorSite: EditorSite, file: string): readonly DocumentLink[] {
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
    ...inBody,
  ]
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
