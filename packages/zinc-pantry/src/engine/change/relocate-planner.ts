import { arrangeFiles } from '../../change/arrange-files.ts'
import type { Attention, Change, Refusal } from '../../change/change.ts'
import type { ConfigurationText } from '../../change/configuration-text.ts'
import type { LinkedAfter } from '../../change/create-link-writer.ts'
import { keepAddresses } from '../../change/keep-addresses.ts'
import { moveEntry } from '../../change/move-entry.ts'
import { createSources } from '../../change/source.ts'
import { addressOf, type ChangeSubject } from '../../change/subject.ts'
import { createFinder, entriesOf } from '../../link/linked-entries.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import { createOrderPlanner } from './order-planner.ts'
import type { Planner, SeenSite } from './planner.ts'
import { refuseTarget, resolveTarget } from './resolve-target.ts'
import { functionsThatName, withoutFront } from './target.ts'

/** Entries that are to stand elsewhere. */
export interface MoveRequest {
  readonly kind: 'move'
  /** An entry (`notices/bridge`), or a collection whose entries are to stand together or apart. */
  readonly target: string
  /** The collection that an entry comes into. */
  readonly to?: string | undefined
  /** Keys there by keys here; an empty one leaves it out. */
  readonly keys?: ReadonlyMap<string, string> | undefined
  /** Entries of the collection get a file each. Default: false. */
  readonly onePerFile?: boolean | undefined
  /** The file that all entries of the collection come into, relative to the content folder. */
  readonly into?: string | undefined
  /** The entry of the same collection that an entry comes to stand before in its order. */
  readonly before?: string | undefined
  /** The entry of the same collection that an entry comes to stand after in its order. */
  readonly after?: string | undefined
}

/** Plans where entries are to stand. */
export function createMovePlanner(
  { target, to, keys = new Map(), onePerFile = false, into, before, after }: MoveRequest,
  subject: ChangeSubject,
  configuration: ConfigurationText,
): Planner | Refusal {
  const found = resolveTarget(subject, target)
  if (!found) return refuseTarget(subject, target)
  const ways = [to, onePerFile || undefined, into, before, after].filter((one) => one !== undefined)
  const neighbour = before ?? after
  if (found.kind === 'entry' && ways.length === 1 && to !== undefined)
    return createEntryMover({ collection: found.collection, id: found.id, to, keys })
  if (found.kind === 'entry' && ways.length === 1 && neighbour !== undefined)
    return createOrderPlanner({ ...found, neighbour, side: before === undefined ? 'after' : 'before' }, subject)
  if (found.kind !== 'collection' || ways.length !== 1 || (!onePerFile && into === undefined))
    return {
      refused: 'It is not said where that is to be',
      help: 'move huts/gable shelters, move gear/boots --before gear/tent, move huts --one-per-file, or move huts --into huts.yaml',
    }
  const plain = into && withoutFront(into, `${subject.model.content}/`)
  return {
    plan: (own) => arrangeFiles(own, { collection: found.name, into: plain }, { configuration, readOptionsOf }),
    refuse(own, seen) {
      const find = createFinder(seen)
      const lost = entriesOf(own).find((entry) => !find(entry))
      if (lost) return { refused: `${found.name}/${lost.id} would not be found under its name any more` }
      // Paths of pictures are written from where the entry stands, and mean the same.
      return findOtherValues(own, seen, { mayBecome: () => false, fieldsOf: () => [] })
    },
  }
}

function createEntryMover(move: {
  readonly collection: string
  readonly id: string
  readonly to: string
  readonly keys: ReadonlyMap<string, string>
}): Planner {
  const { collection, id, to } = move
  const plan = (subject: ChangeSubject, addressAfter: LinkedAfter['addressAfter']): Change | Refusal =>
    moveEntry(subject, move, { readOptionsOf, addressAfter })
  const name = (entry: { readonly collection: string; readonly id: string }) =>
    entry.collection === collection && entry.id === id ? { collection: to, id } : entry
  return {
    plan: (subject) => plan(subject, () => undefined),
    planSeen(subject, seen) {
      const find = createFinder(seen)
      const change = plan(subject, (page) => {
        const entry = find({ ...name(page), locale: page.locale })
        return entry && addressOf(subject, entry)
      })
      if ('refused' in change) return change
      return { ...change, attention: [...change.attention, ...formerAddresses(subject, seen, { collection, id, to })] }
    },
    functionsThatName: (model) => functionsThatName(model, `${collection}/${id}`),
    refuse(subject, seen) {
      if (!entriesOf(seen).some((entry) => entry.collection === to && entry.id === id))
        return {
          refused: `${collection}/${id} would not be read as ${to}/${id}`,
          help: `Compare it with the patterns in files of ${to}`,
        }
      return findOtherValues(subject, seen, {
        mayBecome: (before, after) =>
          (before === `${collection}/${id}` && after === `${to}/${id}`) || (before === collection && after === to),
        nameAfter: name,
        fieldsOf: (entry, { formerAddresses }) => [
          ...(entry.collection === collection && entry.id === id ? Object.keys(entry.data ?? {}) : []),
          ...(formerAddresses === undefined ? [] : [formerAddresses]),
        ],
      })
    },
  }
}

/** Old addresses of the pages of an entry that moved, which its new collection has no list for. */
function formerAddresses(
  subject: ChangeSubject,
  seen: SeenSite,
  { collection, id, to }: { readonly collection: string; readonly id: string; readonly to: string },
): readonly Attention[] {
  const find = createFinder(seen)
  const sourceOf = createSources(subject, readOptionsOf)
  return entriesOf(subject).flatMap((entry) => {
    if (entry.collection !== collection || entry.id !== id) return []
    const [old, now] = [addressOf(subject, entry), find({ collection: to, id, locale: entry.locale })]
    const fresh = now && addressOf(subject, now)
    if (old === undefined || old === fresh) return []
    const moved = { holder: undefined, addresses: [old], address: fresh, entry }
    return keepAddresses(subject, moved, sourceOf).attention ?? []
  })
}
