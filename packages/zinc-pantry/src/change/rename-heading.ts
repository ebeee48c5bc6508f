import type { BodyHeading } from '../body/body-summary.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import { entriesOf } from '../link/linked-entries.ts'
import { isSameEntry } from '../link/pages.ts'
import { decodePart } from '../link/resolve-path.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Change, ChangeStep, Refusal } from './change.ts'
import { rewriteLinks } from './rewrite-links.ts'
import type { ChangeSubject } from './subject.ts'

/** A heading that is to say something else. */
export interface HeadingRenaming {
  readonly collection: string
  readonly id: string
  /** The id of the heading, as fragments of links name it. */
  readonly heading: string
  readonly text: string
}

/** The ids of the headings of an entry once the change is made, in order. */
export type HeadingsAfter = (entry: LinkedEntry) => readonly string[]

/**
 * Gives a heading another text, and every link that leads to it, or to a heading whose id is another by it, its new id. Without
 * `headingsAfter` the links stay as they are.
 */
export function renameHeading(
  subject: ChangeSubject,
  { collection, id, heading, text }: HeadingRenaming,
  headingsAfter?: HeadingsAfter,
): Change | Refusal {
  const versions = entriesOf(subject).filter((entry) => entry.collection === collection && entry.id === id)
  const found = versions.flatMap((entry) => {
    const headings = subject.headingsOf(entry)
    const own = headings.find((one) => one.id === heading)
    return own ? [{ entry, headings, own }] : []
  })
  const [first] = found
  if (!first) {
    const known = versions.flatMap((entry) => subject.headingsOf(entry).map((one) => `#${one.id}`))
    const help = known.length > 0 ? `It has ${known.join(', ')}` : undefined
    return { refused: `${collection}/${id} has no heading #${heading}`, help }
  }
  if (/[\r\n]/.test(text) || text.trim() === '') return { refused: 'A heading is one line of text' }
  const steps: ChangeStep[] = []
  // Another language says it in other words.
  for (const { entry, headings, own } of found.filter((one) => one.own.text === first.own.text)) {
    const { file } = entry.locate([])
    steps.push({ kind: 'edit', file, span: own.span, text: text.trim(), reason: `the heading is ${text.trim()}` })
    if (headingsAfter) appendAll(steps, renameFragments(subject, { entry, headings, after: headingsAfter(entry) }))
  }
  return { words: `${collection}/${id}#${heading} becomes ${text.trim()}`, steps, attention: [] }
}

interface Renamed {
  readonly entry: LinkedEntry
  readonly headings: readonly BodyHeading[]
  readonly after: readonly string[]
}

/** The links to headings of an entry whose ids are others after a change. */
function renameFragments(subject: ChangeSubject, { entry, headings, after }: Renamed): ChangeStep[] {
  const ids = new Map(
    headings.flatMap(({ id }, at) => (after[at] !== undefined && after[at] !== id ? [[id, after[at]]] : [])),
  )
  if (ids.size === 0) return []
  return entriesOf(subject).flatMap((from) => {
    const rewrite = (href: string): string => {
      const at = href.indexOf('#')
      const fresh = at === -1 ? undefined : ids.get(decodePart(href.slice(at + 1)))
      if (fresh === undefined || !leadsTo(subject, href, { from, entry })) return href
      return `${href.slice(0, at)}#${href.includes('%') ? encodeURIComponent(fresh) : fresh}`
    }
    return rewriteLinks(subject, from, rewrite).map(
      ({ place, text }): ChangeStep => ({
        kind: 'edit',
        ...place,
        text,
        reason: `links to ${text}`,
      }),
    )
  })
}

function leadsTo(
  { resolveLink }: ChangeSubject,
  href: string,
  { from, entry }: { readonly from: LinkedEntry; readonly entry: LinkedEntry },
): boolean {
  if (href.startsWith('#')) return isSameEntry(from, entry)
  const target = resolveLink(href, from)
  return 'page' in target && isSameEntry(target.page, entry)
}
