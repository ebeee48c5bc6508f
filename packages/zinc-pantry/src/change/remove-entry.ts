import { appendAll } from '../diagnostics/append-all.ts'
import { entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Attention, Change, ChangeStep, Refusal } from './change.ts'
import { editValue } from './edit-value.ts'
import { keepAddresses } from './keep-addresses.ts'
import { type LedReferences, leadReferences } from './lead-references.ts'
import { refuseName } from './refuse-name.ts'
import { removeItem } from './remove-item.ts'
import { rewriteHref } from './rewrite-href.ts'
import { rewriteLinks } from './rewrite-links.ts'
import { createSources, type ReadOptionsOf, type SourceOf } from './source.ts'
import { addressOf, type ChangeSubject } from './subject.ts'

/** An entry that is to go. */
export interface EntryRemoval {
  readonly collection: string
  readonly id: string
  /** The id of the entry that stands for it from now on; undefined where nothing does. */
  readonly replacement: string | undefined
}

/**
 * Takes an entry away, in all its languages. What refers or links to it leads to another entry, where there is one; else references are
 * taken out of their lists, or away. What may not be absent is found by the check of the site as it would be.
 */
export function removeEntry(
  subject: ChangeSubject,
  { collection, id, replacement }: EntryRemoval,
  readOptionsOf: ReadOptionsOf,
): Change | Refusal {
  const all = entriesOf(subject)
  const isLed: LedReferences['isLed'] = (one) => one.collection === collection && one.id === id
  const others = all.filter((entry) => entry.collection === collection && entry.id === replacement)
  const [other] = others
  if (replacement === id) return { refused: 'An entry cannot stand for itself' }
  if (replacement !== undefined && !other) {
    const ids = all.filter((entry) => entry.collection === collection).map((entry) => entry.id)
    return refuseName(`There is no entry "${replacement}" in ${collection}`, replacement, ids)
  }
  const nextOf = (locale: string | undefined): LinkedEntry | undefined =>
    others.find((one) => one.locale === locale) ?? other
  const sourceOf = createSources(subject, readOptionsOf)
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  for (const entry of all.filter(isLed)) {
    const removal = removeDeclaration(entry, sourceOf)
    if (removal) appendAll(steps, removal)
    else attention.push({ place: entry.locate([]), words: `${collection}/${id} is to be taken away by hand` })
    const address = addressOf(subject, entry)
    if (address === undefined) continue
    const holder = nextOf(entry.locale)
    const next = holder && addressOf(subject, holder)
    const kept = keepAddresses(subject, { holder, addresses: [address], address: next, entry }, sourceOf)
    if (kept.step) steps.push(kept.step)
    if (kept.attention) attention.push(kept.attention)
  }
  for (const entry of all.filter((one) => !isLed(one))) {
    const from = qualifiedId(entry)
    for (const { place, edit } of leadReferences(subject, entry, { isLed, other, sourceOf })) {
      const reason = other ? `${from} refers to ${other.id}` : `${from} does not refer to it`
      if (edit) steps.push({ kind: 'edit', file: place.file, ...edit, reason })
      else attention.push({ place, words: `${from} refers to ${id}, which is to be changed by hand` })
    }
    for (const step of leadLinks(subject, entry, { isLed, nextOf })) steps.push(step)
  }
  const words = `${collection}/${id} goes${other ? `, and ${collection}/${other.id} stands for it` : ''}`
  return { words, steps, attention }
}

/** The steps that take an entry out of its file, or its file away; undefined where a person has to do it. */
export function removeDeclaration(entry: LinkedEntry, sourceOf: SourceOf): readonly ChangeStep[] | undefined {
  const { collection, id, source, recordPath } = entry
  // What references make goes with them.
  if ('implicit' in source) return []
  const { file } = entry.locate([])
  const reason = `${collection}/${id} goes`
  if (recordPath.length === 0) return [{ kind: 'delete', file, reason }]
  const opened = sourceOf(entry)
  if (!opened) return undefined
  const isItem = typeof recordPath.at(-1) === 'number'
  const edit = isItem ? removeItem(opened, recordPath) : editValue(opened, recordPath, undefined, { isWhole: true })
  return edit && [{ kind: 'edit', file, ...edit, reason }]
}

/** The edits of the links of an entry to one that goes; what is not certain is found by the check of what would be. */
function leadLinks(
  subject: ChangeSubject,
  entry: LinkedEntry,
  { isLed, nextOf }: Pick<LedReferences, 'isLed'> & { nextOf(locale: string | undefined): LinkedEntry | undefined },
): readonly ChangeStep[] {
  const rename = (href: string): string => {
    const target = subject.resolveLink(href, entry)
    const next = 'page' in target && isLed(target.page) ? nextOf(target.page.locale) : undefined
    if (!('page' in target) || !next || href.startsWith('#')) return href
    const { file } = entry.source
    return rewriteHref({
      ...{ href, from: file, fromAfter: file, to: target.page.source.file, toAfter: next.source.file },
      ...{ name: `${next.collection}/${target.page.id}`, nameAfter: qualifiedId(next) },
      addressAfter: addressOf(subject, next),
    })
  }
  return rewriteLinks(subject, entry, rename).map(({ place, text }) => {
    return { kind: 'edit', ...place, text, reason: `${qualifiedId(entry)} links to ${text}` }
  })
}
