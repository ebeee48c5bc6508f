import type { Attention, Change, ChangeStep, Refusal } from '../../change/change.ts'
import { keepAddresses } from '../../change/keep-addresses.ts'
import { type PageAfter, renameEntry } from '../../change/rename-entry.ts'
import { createSources } from '../../change/source.ts'
import { addressOf, type ChangeSubject } from '../../change/subject.ts'
import { addTo } from '../../diagnostics/add-to.ts'
import { createFinder, entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import { idKeysOf } from '../../schema/naming-rule.ts'
import { writtenKey } from '../../schema/written-key.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner, SeenSite } from './planner.ts'
import { functionsThatName, refuseUnknown, splitName } from './target.ts'

/** An entry that is to have another id. */
export interface EntryRequest {
  /** An entry, such as `huts/gable`. */
  readonly target: string
  /** The id that it is to have. */
  readonly name: string
}

/** Plans the renaming of an entry. */
export const createEntryPlanner = (request: EntryRequest): Planner => ({
  plan: (subject) => makeChange(subject, request),
  planSeen: (subject, seen) => makeChange(subject, request, pagesAfter(subject, seen, request)),
  functionsThatName: (model) => functionsThatName(model, request.target),
  refuse: (subject, seen) => findUnread(seen, request) ?? findOther(subject, seen, request),
})

function makeChange(subject: ChangeSubject, { target, name }: EntryRequest, pageAfter?: PageAfter): Change | Refusal {
  const unknown = refuseUnknown(subject, target)
  if (unknown) return unknown
  const { collection, id } = splitName(target)
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
function pagesAfter(subject: ChangeSubject, seen: SeenSite, { target, name }: EntryRequest): PageAfter {
  const find = createFinder(seen)
  return (entry) => {
    const isTarget = qualifiedId(entry) === target
    const found = find(isTarget ? { collection: entry.collection, id: name, locale: entry.locale } : entry)
    return found && { slug: found.slug, address: addressOf(subject, found) }
  }
}

/** Pages that move are found at their old addresses too, where entries list such. */
function keepFormerAddresses(
  subject: ChangeSubject,
  pageAfter: PageAfter,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const sourceOf = createSources(subject, readOptionsOf)
  const kept = entriesOf(subject).flatMap((entry) => {
    const [old, fresh] = [addressOf(subject, entry), pageAfter(entry)?.address]
    if (old === undefined || fresh === undefined || old === fresh) return []
    return [keepAddresses(subject, { holder: entry, addresses: [old], address: fresh, entry }, sourceOf)]
  })
  return { steps: kept.flatMap(({ step }) => step ?? []), attention: kept.flatMap(({ attention }) => attention ?? []) }
}

/** Why an entry would not be there under its new id. */
function findUnread(seen: SeenSite, { target, name }: EntryRequest): Refusal | undefined {
  const { collection } = splitName(target)
  if (entriesOf(seen).some((entry) => entry.collection === collection && entry.id === name)) return undefined
  return {
    refused: `${target} would not be read as ${collection}/${name}`,
    help: `Compare it with the patterns in files of ${collection}`,
  }
}

/** A value that the renaming would touch without being asked to. */
function findOther(subject: ChangeSubject, seen: SeenSite, { target, name }: EntryRequest): Refusal | undefined {
  const { collection, id } = splitName(target)
  const find = createFinder(seen)
  const isTarget = (entry: LinkedEntry): boolean => entry.collection === collection && entry.id === id
  const texts = new Map<string, string[]>()
  addTo(texts, id, name)
  for (const entry of entriesOf(subject).filter(isTarget)) {
    const slug = find({ collection, id: name, locale: entry.locale })?.slug
    if (slug !== undefined) addTo(texts, entry.slug, slug)
  }
  return findOtherValues(subject, seen, {
    mayBecome: (before, after) => texts.get(before)?.includes(after) === true,
    nameAfter: (entry) => ({ collection: entry.collection, id: isTarget(entry) ? name : entry.id }),
    fieldsOf(entry, { formerAddresses, fields, ...own }) {
      const keys = isTarget(entry) ? idKeysOf(own) : []
      const names = Object.entries(fields).flatMap(([one, field]) =>
        keys.includes(writtenKey(one, field)) ? [one] : [],
      )
      return formerAddresses === undefined ? names : [...names, formerAddresses]
    },
  })
}
