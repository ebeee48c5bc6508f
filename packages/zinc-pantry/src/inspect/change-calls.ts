import { undoChange } from '../engine/change-journal.ts'
import type { ChangeReport, ChangeRequest } from '../engine/change-request.ts'
import { type ChangeView, describeChange, describeWritten } from '../engine/describe/describe-change.ts'
import { describeRecord, type RecordView } from '../engine/describe/describe-record.ts'
import type { SiteView } from '../engine/describe/site-view.ts'
import { type CallContext, type CallRefusal, NO_VIEW } from './call-context.ts'
import { type Upload, uploadPicture } from './upload.ts'

/** A change that is asked for, and the state of its file that it was made from. */
export interface ChangeCall {
  readonly request: ChangeRequest
  readonly dryRun: boolean
  readonly anyway?: boolean
  /** The digest of the text of the entry that is written; where it is another by now, nothing is. */
  readonly digest?: string
}

/** A change that is not made, since its file is another by now. */
export interface StaleAnswer {
  readonly stale: RecordView
}

/** Kinds of changes that a page may ask for: not those that read files from elsewhere. */
const CHANGES: ReadonlySet<string> = new Set(['rename', 'remove', 'set', 'new', 'move', 'extract', 'write', 'mend'])

/** Makes what a page has written. */
export function createChangeCalls({ site, withView }: CallContext) {
  const { host, followed } = site
  return {
    /** Puts a picture into the content. */
    upload: (upload: Upload): Promise<{ readonly file: string } | CallRefusal> =>
      withView<{ readonly file: string } | CallRefusal>(async (view) => {
        if (site.isReadOnly) return { refused: 'It was opened for reading only' }
        const answer = await uploadPicture(upload, view, site)
        if ('file' in answer) followed.note([`${view.model.content}/${answer.file}`])
        return answer
      }),
    async change(call: ChangeCall): Promise<ChangeView | StaleAnswer | CallRefusal> {
      const { request, dryRun, anyway = false, digest } = call
      if (!CHANGES.has(request.kind)) return { refused: `A page cannot ask for "${request.kind}"` }
      if (site.isReadOnly && !dryRun) return { refused: 'It was opened for reading only' }
      const view = await site.view()
      if (!view) return NO_VIEW
      if (digest !== undefined && request.kind === 'write') {
        const entry = view.find(request.collection, request.id, request.locale)
        const now = entry && describeRecord(entry, view, host.digest)
        if (now && now.digest !== digest) return { stale: now }
      }
      const answer = await followed.change(request, { dryRun, anyway })
      if (!answer) return NO_VIEW
      if ('refused' in answer) return { refused: answer.refused, help: answer.help }
      if (answer.isWritten) followed.note([...answer.after.keys()])
      const change = describeChange(answer, view)
      const written = findWritten(request, answer, view)
      return written ? { ...change, own: describeWritten(answer, view, written) } : change
    },
    async undo(): Promise<{ readonly words: string } | CallRefusal> {
      if (site.isReadOnly) return { refused: 'It was opened for reading only' }
      const undone = await undoChange(host)
      followed.note(undefined)
      if (!undone) return { refused: 'There is no change to undo' }
      return 'changed' in undone ? { refused: `Changed since then: ${undone.changed.join(', ')}` } : undone
    },
  }
}

/** Where the entry stands that a request writes or makes; of a new record among others it is not known. */
function findWritten(request: ChangeRequest, { before, after }: ChangeReport, view: SiteView) {
  if (request.kind === 'write') {
    const entry = view.find(request.collection, request.id, request.locale)
    return entry && { file: entry.locate([]).file, collection: request.collection, recordPath: entry.recordPath }
  }
  const [file] = after.keys()
  if (request.kind !== 'new' || file === undefined || before.get(file)) return undefined
  return { file, collection: request.collection, recordPath: [] }
}
