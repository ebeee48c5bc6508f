import { complete } from '../editor/complete.ts'
import { openEditorSite } from '../editor/editor-site.ts'
import type { Position } from '../editor/look-at.ts'
import { describeRecord, type RecordView } from '../engine/describe/describe-record.ts'
import type { Revision } from '../host/host.ts'
import type { CallContext, CallRefusal, EntryName } from './call-context.ts'
import { type BodyPreview, renderBody } from './render-body.ts'

/** Something that may be put into a body. */
export interface BodyOffer {
  readonly label: string
  readonly detail?: string
  /** What is written in the place of a part of the text. */
  readonly text: string
  readonly from: number
  readonly to: number
}

/** Makes what a page asks of an entry. */
export function createEntryCalls({ site, withView, withEntry }: CallContext) {
  const { host, followed } = site
  return {
    entry: (name: EntryName): Promise<RecordView | CallRefusal> =>
      withEntry(name, (entry, view) => describeRecord(entry, view, host.digest)),
    body: (name: EntryName & { readonly text?: string }): Promise<BodyPreview | CallRefusal> =>
      withEntry(name, (entry, view) => renderBody(entry, view, { site, text: name.text })),
    /** What may come next in the body of an entry, also of one whose file is not there yet. */
    completeBody: ({ file, text, offset }: Position): Promise<readonly BodyOffer[] | CallRefusal> =>
      withView<readonly BodyOffer[] | CallRefusal>((view) => {
        const editorSite = openEditorSite(view.site)
        const offers = editorSite ? complete(editorSite, { file, text, offset }, host.clock()) : []
        return offers.map(({ label, detail, text: written, span }) => {
          return { label, text: written, from: span[0], to: span[1], ...(detail === undefined ? {} : { detail }) }
        })
      }),
    /** The changes of the file of an entry, by version control. */
    history: (name: EntryName): Promise<{ readonly revisions: readonly Revision[] | undefined } | CallRefusal> =>
      withEntry(name, async (entry) => ({ revisions: await host.revisions?.(entry.locate([]).file) })),
    patch: ({
      revision,
      ...name
    }: EntryName & { readonly revision: string }): Promise<{ readonly patch: string | undefined } | CallRefusal> =>
      withEntry(name, async (entry) => ({ patch: await host.patchOf?.(entry.locate([]).file, revision) })),
    /** Opens the file of an entry, or the configuration, in the editor of the person. */
    open: ({
      file,
      line,
    }: {
      readonly file: string
      readonly line: number
    }): Promise<{ readonly opened: string } | CallRefusal> =>
      withView<{ readonly opened: string } | CallRefusal>(async ({ site: { listing }, model }) => {
        const isOurs = file === followed.configurationFile || listing.some((one) => `${model.content}/${one}` === file)
        if (!isOurs || host.root === undefined) return { refused: `${file} is no file of the site` }
        return site.openInEditor(`${host.root}/${file}`, Number(line) || 1)
      }),
    /** Pictures of the content that a field may name. */
    files: ({ pattern }: { readonly pattern: string }) =>
      withView(({ site: { listing } }) => {
        const ending = new RegExp(`\\.(?:${pattern.replace(/[^\w|]/g, '')})$`, 'i')
        return listing.filter((file) => ending.test(file))
      }),
  }
}
