import { writtenRecord } from '../../change/write-entry.ts'
import { createLineIndex } from '../../diagnostics/line-index.ts'
import type { PathSegment } from '../../read/document.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { describeHead, type HeadView } from './describe-head.ts'
import { describeProblems, type ProblemView } from './describe-problems.ts'
import { createPathFinder } from './find-path.ts'
import type { SiteView } from './site-view.ts'

/** A connection of an entry with another. */
export interface ConnectionView extends HeadView {
  /** The dotted path of the reference; undefined for a link in a text. */
  readonly path?: string
}

/** A problem of an entry, and the value that it is of. */
export interface RecordProblem extends ProblemView {
  /** In the record as it is written. */
  readonly path?: readonly PathSegment[]
}

/** All there is to know of an entry. */
export interface RecordView {
  readonly head: HeadView
  readonly file: string
  readonly line: number
  /** The text of its file; of a file of many entries only that around it, which begins at `firstLine`. */
  readonly text: string
  readonly firstLine: number
  /** The digest of the file by which a change of it is told. */
  readonly digest: string
  /** The record as it is written, cells of tables by their types. */
  readonly written: Readonly<Record<string, unknown>>
  /** The values as queries see them, private and computed ones included. */
  readonly values: Readonly<Record<string, unknown>>
  readonly body?: { readonly format: 'markdown' | 'mdx'; readonly text: string }
  readonly refersTo: readonly ConnectionView[]
  readonly usedBy: readonly ConnectionView[]
  readonly versions: readonly HeadView[]
  readonly problems: readonly RecordProblem[]
  /** Why it cannot be written, where it cannot. */
  readonly locked?: string
  /** The keys of the record that give the id, and are changed by renaming. */
  readonly idKeys: readonly string[]
}

/** Describes an entry: its values, its text, what it is connected with, and what is wrong with it. */
export function describeRecord(entry: LinkedEntry, view: SiteView, digest: (text: string) => string): RecordView {
  const { site, model } = view
  const { textOf } = site.report
  const collection = view.collectionOf(entry.collection)
  const { file } = entry.locate([])
  const text = textOf(file) ?? ''
  const source = view.sourceOf(entry)
  const written = source && collection ? writtenRecord(entry, source, { collection, blocks: model.blocks }) : {}
  const problems = view.problemsOf(entry)
  const pathOf = source && createPathFinder(source.document, entry.recordPath)
  const { body } = entry
  const locked = whyLocked(entry, view, source !== undefined)
  return {
    head: describeHead(entry, view),
    ...{ file, written, digest: digest(text), ...excerptOf(entry, text) },
    values: entry.data ?? entry.part ?? {},
    ...(body ? { body: { format: body.format, text: text.slice(body.startOffset) } } : {}),
    refersTo: listTargets(entry, view),
    usedBy: view.usesOf(entry).map(({ entry: other, path }) => {
      return { ...describeHead(other, view), ...(path === undefined ? {} : { path }) }
    }),
    versions: view.versionsOf(entry).map((one) => describeHead(one, view)),
    problems: describeProblems(problems, { textOf, view }).map((one, at) => {
      const path = problems[at] && pathOf?.(problems[at])
      return path ? { ...one, path } : one
    }),
    ...(locked === undefined ? {} : { locked }),
    idKeys: collection?.id.by === 'keys' ? collection.id.keys : [],
  }
}

/** So many lines are given around an entry of a file of many. */
const AROUND = 40

/** The text of an entry for people, and its line. */
function excerptOf(entry: LinkedEntry, text: string): Pick<RecordView, 'text' | 'firstLine' | 'line'> {
  const { line } = createLineIndex(text).at(entry.locate([]).span[0])
  if (entry.recordPath.length === 0) return { text, firstLine: 1, line }
  const firstLine = Math.max(1, line - AROUND)
  return {
    text: text
      .split('\n')
      .slice(firstLine - 1, line + AROUND)
      .join('\n'),
    firstLine,
    line,
  }
}

function whyLocked(entry: LinkedEntry, view: SiteView, isRead: boolean): string | undefined {
  if (entry.source.implicit) return 'A reference made it: it stands in no file'
  if (view.collectionOf(entry.collection)?.source) return 'It comes from elsewhere'
  return isRead ? undefined : 'Its file cannot be read'
}

function listTargets(entry: LinkedEntry, view: SiteView): readonly ConnectionView[] {
  const referred = entry.links.flatMap(({ collection, id, path }) => {
    const target = view.find(collection, id, entry.locale) ?? view.find(collection, id)
    return target ? [{ ...describeHead(target, view), path: path.join('.') }] : []
  })
  const linked = view.linksOf(entry).flatMap(({ href, target }) => {
    if (href.startsWith('#') || !('page' in target) || !target.page) return []
    const { collection, id, locale } = target.page
    const found = view.find(collection, id, locale)
    return found && found !== entry ? [describeHead(found, view)] : []
  })
  return [...referred, ...new Map(linked.map((one) => [`${one.name} ${one.locale ?? ''}`, one])).values()]
}
