import { explainCode } from '../diagnostics/explain.ts'
import { createPlaceRenderer, type PlaceJson } from '../diagnostics/render-json.ts'
import { complete } from '../editor/complete.ts'
import { openEditorSite } from '../editor/editor-site.ts'
import type { Position } from '../editor/look-at.ts'
import { refuseTarget, resolveTarget } from '../engine/change/resolve-target.ts'
import { undoChange } from '../engine/change-journal.ts'
import type { ChangeReport, ChangeRequest } from '../engine/change-site.ts'
import { type ConditionCompletion, completeCondition } from '../engine/complete-condition.ts'
import { type ChangeView, describeChange, describeWritten } from '../engine/describe/describe-change.ts'
import { describeModel } from '../engine/describe/describe-fields.ts'
import { describeOverview, type OverviewView } from '../engine/describe/describe-overview.ts'
import {
  describePages,
  findPages,
  type PagesQuestion,
  type PagesView,
  type PageView,
} from '../engine/describe/describe-pages.ts'
import { describePart, type PartDescription } from '../engine/describe/describe-part.ts'
import { describeProblems } from '../engine/describe/describe-problems.ts'
import { describeRecord, type RecordView } from '../engine/describe/describe-record.ts'
import type { SiteView } from '../engine/describe/site-view.ts'
import type { Question, QuestionProblem } from '../engine/read-question.ts'
import { readBytes } from '../engine/read-text.ts'
import { type QuestionCode, writeQuestionCode } from '../engine/write-query-code.ts'
import { HostError, type Revision } from '../host/host.ts'
import { type AnswerParts, createAnswers, type RowsAnswer, type RowsQuestion } from './answers.ts'
import { type ChoiceQuestion, type ChoiceView, listChoices } from './choices.ts'
import type { InspectedSite } from './inspected-site.ts'
import { drawModel, type ModelDiagram } from './model-diagram.ts'
import { type BodyPreview, renderBody } from './render-body.ts'

/** Why a call has no answer, in words for people. */
export interface CallRefusal {
  readonly refused: string
  readonly help?: string | undefined
}

/** An entry by its name, in one of its languages. */
export interface EntryName {
  readonly collection: string
  readonly id: string
  readonly locale?: string | undefined
}

/** A part of the model, at the places where it stands. */
export interface PartView extends Omit<PartDescription, 'declared' | 'named'> {
  readonly declared: readonly PlaceJson[]
  readonly named: readonly PlaceJson[]
}

/** Something that may be put into a body. */
export interface BodyOffer {
  readonly label: string
  readonly detail?: string
  /** What is written in the place of a part of the text. */
  readonly text: string
  readonly from: number
  readonly to: number
}

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

const NO_VIEW: CallRefusal = { refused: 'The configuration has errors', help: 'Mend them first: see the problems' }

/** Kinds of changes that a page may ask for: not those that read files from elsewhere. */
const CHANGES: ReadonlySet<string> = new Set(['rename', 'remove', 'set', 'new', 'move', 'extract', 'write', 'mend'])

/** Makes what a page can ask of a site. Each takes plain data and gives plain data. */
export function createCalls(site: InspectedSite) {
  const { host, followed } = site
  const answers = createAnswers()
  let told: { readonly view: SiteView; readonly overview: OverviewView } | undefined
  let listed: { readonly view: SiteView; readonly pages: readonly PageView[] } | undefined
  const pagesOf = (view: SiteView): readonly PageView[] => {
    if (listed?.view !== view) listed = { view, pages: describePages(view) }
    return listed.pages
  }
  const withView = async <Answer>(
    answer: (view: SiteView) => Answer | Promise<Answer>,
  ): Promise<Answer | CallRefusal> => {
    site.asked()
    const view = await site.view()
    return view ? answer(view) : NO_VIEW
  }
  const withEntry = <Answer>(
    { collection, id, locale }: EntryName,
    answer: (entry: NonNullable<ReturnType<SiteView['find']>>, view: SiteView) => Answer | Promise<Answer>,
  ): Promise<Answer | CallRefusal> =>
    withView<Answer | CallRefusal>((view) => {
      const entry = view.find(collection, id, locale)
      return entry ? answer(entry, view) : { refused: `There is no entry ${collection}/${id}` }
    })
  return {
    async status() {
      await site.view()
      return site.status()
    },
    overview: () =>
      withView((view) => {
        if (told?.view !== view) told = { view, overview: describeOverview(view, (file) => host.times?.(file)?.last) }
        return { ...told.overview, output: sizeOfOutput(site, view), log: site.log() }
      }),
    model: () => withView((view) => describeModel(view.model)),
    diagram: (): Promise<ModelDiagram | CallRefusal> => withView((view) => drawModel(describeModel(view.model))),
    /** Rows of the answer to a question, from an offset. */
    rows: (question: RowsQuestion): Promise<RowsAnswer | CallRefusal> =>
      withView((view) => answers.rows(view, question)),
    /** What else there is to know of an answer: facets, the plan. */
    answer: (question: RowsQuestion & { readonly facets?: string }): Promise<AnswerParts | CallRefusal> =>
      withView((view) => answers.parts(view, question)),
    /** What may come next in a condition. */
    complete: ({
      collection,
      text,
      at,
    }: {
      readonly collection: string
      readonly text: string
      readonly at: number
    }): Promise<ConditionCompletion | CallRefusal> =>
      withView<ConditionCompletion | CallRefusal>(async (view) => {
        const { shapes } = await view.query()
        if (!shapes.has(collection)) return { refused: `There is no collection "${collection}"` }
        const entriesOf = (name: string) =>
          view.entriesIn(name).map((entry) => ({ id: entry.id, label: view.labelOf(entry) }))
        return completeCondition(text, at, { collection, shapes, entriesOf })
      }),
    /** A question as code to copy. */
    code: (question: Question): Promise<QuestionCode | { readonly problem: QuestionProblem } | CallRefusal> =>
      withView(async (view) => writeQuestionCode(await view.query(), question)),
    /** A field, a value of a choice or a block: where it stands, and what uses it. */
    part: ({ target }: { readonly target: string }): Promise<PartView | CallRefusal> =>
      withView<PartView | CallRefusal>(async ({ site: examined, model }) => {
        const subject = { model, collections: examined.checked.collections, files: examined.listing }
        const found = resolveTarget(subject, target)
        if (!found || !('symbol' in found)) return refuseTarget(subject, target)
        const options = { host, configurationFile: followed.configurationFile }
        const { declared, named, ...part } = await describePart(found, { model, checked: examined.checked }, options)
        const placeOf = createPlaceRenderer(site.textOf)
        return { ...part, declared: declared.map(placeOf), named: named.map(placeOf) }
      }),
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
    choices: (question: ChoiceQuestion): Promise<readonly ChoiceView[] | CallRefusal> =>
      withView((view) => listChoices(view, question)),
    pages: (question: PagesQuestion): Promise<PagesView | CallRefusal> =>
      withView((view) => findPages(pagesOf(view), question)),
    async problems() {
      const [view, diagnostics] = [await site.view(), await site.problems()]
      return describeProblems(diagnostics, { textOf: site.textOf, view })
    },
    async explain({ code }: { readonly code: string }) {
      const explained = explainCode(code)
      return 'meaning' in explained ? explained : { refused: `There is no code "${code}"` }
    },
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

/** The calls of a page by name. */
export type Calls = ReturnType<typeof createCalls>
export type CallName = keyof Calls
/** What a call takes. */
export type CallParameters<Name extends CallName> =
  Parameters<Calls[Name]> extends [infer Given, ...unknown[]] ? Given : Readonly<Record<string, never>>
/** What a call gives. */
export type CallAnswer<Name extends CallName> = Awaited<ReturnType<Calls[Name]>>

/** Answers a call; what is asked for wrongly is refused in words. */
export async function answerCall(calls: Calls, name: string, parameters: unknown): Promise<unknown> {
  const call = Object.hasOwn(calls, name) ? calls[name as CallName] : undefined
  if (!call) return { refused: `There is no call "${name}"` }
  try {
    return await (call as (given: unknown) => Promise<unknown>)(parameters ?? {})
  } catch (error) {
    if (error instanceof HostError) return { refused: `A file cannot be used: ${error.message}` }
    return { refused: error instanceof Error ? error.message : String(error) }
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

/** The size of the last output, where there is one. */
function sizeOfOutput(
  { host }: InspectedSite,
  { model }: SiteView,
): { readonly files: number; readonly bytes: number } | undefined {
  const listing = host.list(model.output)
  if (!listing) return undefined
  const sizes = listing.files.map((file) => host.size(`${model.output}/${file}`) ?? 0)
  return { files: sizes.length, bytes: sizes.reduce((sum, size) => sum + size, 0) }
}

/** The bytes of a file that a page may show: one of the content or of what is served as it is. */
export async function readShown(site: InspectedSite, path: string): Promise<Uint8Array | undefined> {
  const view = await site.view()
  if (!view) return undefined
  const { content } = view.model
  return view.site.listing.includes(path) ? readBytes(site.host, `${content}/${path}`) : undefined
}
