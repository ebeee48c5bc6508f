import { addToList } from '../change/add-to-list.ts'
import type { Attention, Change, ChangeStep, Refusal } from '../change/change.ts'
import { type Contents, contentsAfter } from '../change/contents.ts'
import { type PageAfter, renameEntry } from '../change/rename-entry.ts'
import { findOtherValue } from '../change/same-values.ts'
import { type ChangeSubject, entriesOf } from '../change/subject.ts'
import { addTo } from '../diagnostics/add-to.ts'
import { type Diagnostic, hasErrors, messageOf } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { type Host, HostError } from '../host/host.ts'
import { formatOf } from '../read/formats.ts'
import type { AnyField } from '../schema/any-field.ts'
import { kindOf } from '../schema/kinds.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { applyContents } from './change-journal.ts'
import { readOptionsOf } from './check-file.ts'
import { overlayHost } from './overlay-host.ts'
import type { CheckedSite } from './run-site.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A change that is asked for. */
export interface ChangeRequest {
  readonly kind: 'rename'
  /** An entry, such as `huts/gable`. */
  readonly target: string
  /** The id that it is to have. */
  readonly name: string
}

/** How a change is made. */
export interface ChangeOptions extends SiteOptions {
  /** Nothing is written. Default: false. */
  readonly dryRun?: boolean
  /** Written although it makes new problems. Default: false. */
  readonly anyway?: boolean
}

/** A change that was made, or would be, and its proof. The report is that of the site as it was. */
export interface ChangeReport extends SiteReport {
  readonly change: Change
  /** The contents of all files that it changes, before and after; undefined for those that are not there. */
  readonly before: Contents
  readonly after: Contents
  /** Problems that are there after it and were not there before. */
  readonly problems: SiteReport
  readonly isWritten: boolean
  /** Files that somebody else changed in the meantime, so that nothing was written. */
  readonly changed: readonly string[]
}

/** A change and its proof, or why there is none. */
export type ChangeAnswer = ChangeReport | (SiteReport & Refusal)

/**
 * Makes a change of a site: proved before it is written, by a check of the site as it would be. Where that finds a problem that was
 * not there before, nothing is written. Comments and layout stay as they are; all files are written, or none.
 *
 * Diagnostics: all of `checkSite`.
 *
 * @example
 * ```ts
 * import { changeSite, createNodeHost } from 'zinc-pantry/engine'
 *
 * const options = { host: createNodeHost('.'), configurationFile: 'pantry.config.ts', dryRun: true }
 * const answer = await changeSite(options, { kind: 'rename', target: 'huts/gable', name: 'crag' })
 * if ('change' in answer) for (const { kind, reason } of answer.change.steps) console.log(kind, reason)
 * ```
 */
export async function changeSite(
  { dryRun = false, anyway = false, ...options }: ChangeOptions,
  request: ChangeRequest,
): Promise<ChangeAnswer> {
  const { examineSite } = await import('./run-site.ts')
  const { host } = options
  // Links of bodies are looked at one by one, which takes their texts. Drafts are renamed too.
  const examined = { ...options, drafts: true, cache: false }
  const site = await examineSite(examined)
  const { report, model } = site
  if (!model) return { ...report, refused: 'The configuration has errors' }
  const subject = createSubject(site, model)
  const first = makeChange(subject, request)
  if ('refused' in first) return { ...report, ...first }
  let change: Change = first
  const examineAfter = () => examineSite({ ...examined, host: overlayHost(host, contentsAfter(change, host.read)) })
  let tried = await examineAfter()
  const unread = findUnread(tried, request)
  if (unread) return { ...report, ...unread }
  const whole = makeChange(subject, request, pagesAfter(subject, tried, request))
  if (!('refused' in whole)) {
    const isOther = JSON.stringify(whole.steps) !== JSON.stringify(change.steps)
    change = whole
    // What the change is for addresses is known once the site is seen without them.
    if (isOther) tried = await examineAfter()
  }
  const other = findOther(subject, tried, request)
  if (other) return { ...report, ...other }
  const after = contentsAfter(change, host.read)
  const before: Contents = new Map([...after.keys()].map((file) => [file, readNow(host, file)]))
  const problems = { ...tried.report, diagnostics: freshProblems(report.diagnostics, tried.report.diagnostics) }
  const answer = { ...report, change, before, after, problems, isWritten: false, changed: [] }
  if (dryRun || (hasErrors(problems.diagnostics) && !anyway)) return answer
  const applied = await applyContents(host, { words: change.words, before, after })
  return 'changed' in applied ? { ...answer, changed: applied.changed } : { ...answer, isWritten: true }
}

/** Why an entry would not be there under its new id. */
function findUnread({ checked }: CheckedSite, { target, name }: ChangeRequest): Refusal | undefined {
  const collection = target.slice(0, target.indexOf('/'))
  if (entriesOf(checked).some((entry) => entry.collection === collection && entry.id === name)) return undefined
  return {
    refused: `${target} would not be read as ${collection}/${name}`,
    help: `Compare it with the patterns in files of ${collection}`,
  }
}

/** A value that the change would touch without being asked to. */
function findOther(
  subject: ChangeSubject,
  { checked }: CheckedSite,
  { target, name }: ChangeRequest,
): Refusal | undefined {
  const [collection = '', ...rest] = target.split('/')
  const id = rest.join('/')
  const after = createFinder(checked)
  const own = subject.collections.find((one) => one.collection.name === collection)?.entries ?? []
  const texts = new Map<string, string[]>()
  addTo(texts, id, name)
  for (const entry of own.filter((one) => one.id === id)) {
    const slug = after(collection, name, entry.locale)?.slug
    if (slug !== undefined) addTo(texts, entry.slug, slug)
  }
  for (const holder of subject.collections) {
    const { derived, formerAddresses, id: rule, fields: declared } = holder.collection
    const keys = rule.by === 'keys' ? rule.keys : []
    const names = Object.keys(declared).filter((field) => keys.includes(writtenKey(field, declared[field] as AnyField)))
    const computed = Object.keys(declared).filter((field) => kindOf(declared[field] as AnyField).computed)
    const fields = new Set([...Object.keys(derived), ...(formerAddresses ?? '').split('\n'), ...names, ...computed])
    for (const entry of holder.entries) {
      const isTarget = holder.collection.name === collection && entry.id === id
      const now = after(holder.collection.name, isTarget ? name : entry.id, entry.locale)
      const path = now && findOtherValue(entry, now, { texts, fields })
      if (path !== undefined)
        return {
          refused: `${path} of ${holder.collection.name}/${entry.id} would have another value`,
          help: 'Rename it by hand',
        }
    }
  }
  return undefined
}

/** Makes what finds an entry by its collection, id and language. */
function createFinder({ collections }: Pick<ChangeSubject, 'collections'>) {
  const keyOf = (collection: string, id: string, locale: string | undefined): string =>
    `${collection}/${id} ${locale ?? ''}`
  const known = new Map(entriesOf({ collections }).map((one) => [keyOf(one.collection, one.id, one.locale), one]))
  return (collection: string, id: string, locale: string | undefined): LinkedEntry | undefined =>
    known.get(keyOf(collection, id, locale))
}

function createSubject(
  { checked, listing }: CheckedSite & { readonly listing: readonly string[] },
  model: ChangeSubject['model'],
): ChangeSubject {
  const { collections, resolveLink, bodies, textOf } = checked
  return {
    ...{ model, collections, resolveLink, textOf },
    files: listing,
    locateLinks: (entry, isFine) => bodies?.locateLinks(entry, isFine) ?? { body: [], texts: [] },
  }
}

function makeChange(subject: ChangeSubject, { target, name }: ChangeRequest, pageAfter?: PageAfter): Change | Refusal {
  const slash = target.indexOf('/')
  const [collection, id] = [target.slice(0, slash), target.slice(slash + 1)]
  const names = entriesOf(subject).map((entry) => `${entry.collection}/${entry.id}`)
  if (!names.includes(target)) {
    const suggestion = suggestNearest(target, names)
    return {
      refused: `There is no entry "${target}"`,
      help:
        suggestion === undefined
          ? 'Name it by its collection and id, such as huts/gable'
          : `Did you mean "${suggestion}"?`,
    }
  }
  const change = renameEntry(subject, { collection, id, name }, pageAfter)
  if ('refused' in change || !pageAfter) return change
  const former = keepFormerAddresses(subject, pageAfter)
  return {
    ...change,
    steps: [...change.steps, ...former.steps],
    attention: [...change.attention, ...former.attention],
  }
}

/** Tells what became of the pages of a site by a change. */
function pagesAfter(subject: ChangeSubject, { checked }: CheckedSite, { target, name }: ChangeRequest): PageAfter {
  const find = createFinder(checked)
  return (entry) => {
    const isTarget = `${entry.collection}/${entry.id}` === target
    const found = find(entry.collection, isTarget ? name : entry.id, entry.locale)
    return found && { slug: found.slug, address: addressOf(subject, found) }
  }
}

function addressOf({ model }: Pick<ChangeSubject, 'model'>, { collection, data }: LinkedEntry): string | undefined {
  const { address } = model.collections.find(({ name }) => name === collection) ?? {}
  const value = address === undefined ? undefined : data?.[address]
  return typeof value === 'string' ? value : undefined
}

/** Where entries list the addresses that they had, those that a change takes away are added. */
function keepFormerAddresses(
  subject: ChangeSubject,
  pageAfter: PageAfter,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  for (const { collection, entries } of subject.collections) {
    const field = collection.formerAddresses
    for (const entry of entries) {
      const [old, fresh] = [addressOf(subject, entry), pageAfter(entry)?.address]
      if (old === undefined || fresh === undefined || old === fresh) continue
      const place = entry.locate([])
      if (field === undefined) {
        const words = `its page moves from ${old} to ${fresh}, and ${collection.name} lists no former addresses`
        attention.push({ place, words })
        continue
      }
      const { file } = place
      const format = formatOf(file, subject.model.endings)
      const text = subject.textOf(file)
      const document = text === undefined ? undefined : format?.read({ file, text }, readOptionsOf(collection)).document
      const declared = collection.fields[field]
      const edit =
        format && document && declared && text !== undefined
          ? addToList({
              ...{ text, document, format: format.name, recordPath: entry.recordPath, item: old },
              key: writtenKey(field, declared),
            })
          : undefined
      const reason = `its page was at ${old}`
      if (edit) steps.push({ kind: 'edit', file, ...edit, reason })
      else attention.push({ place, words: `${reason}, which is to be written into ${field} by hand` })
    }
  }
  return { steps, attention }
}

/** Problems that are there after a change and were not there before, whatever place and file they have now. */
function freshProblems(before: readonly Diagnostic[], after: readonly Diagnostic[]): readonly Diagnostic[] {
  const known = new Map<string, number>()
  const keyOf = (one: Diagnostic): string => `${one.code} ${messageOf(one)}`
  for (const one of before) known.set(keyOf(one), (known.get(keyOf(one)) ?? 0) + 1)
  return after.filter((one) => {
    const left = known.get(keyOf(one)) ?? 0
    known.set(keyOf(one), left - 1)
    return left <= 0
  })
}

function readNow(host: Host, file: string): Uint8Array | undefined {
  try {
    return host.size(file) === undefined ? undefined : host.read(file)
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}
