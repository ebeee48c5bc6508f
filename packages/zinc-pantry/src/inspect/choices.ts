import { listEntryChoices } from '../change/entry-choices.ts'
import { describeHead, type HeadView } from '../engine/describe/describe-head.ts'
import type { SiteView } from '../engine/describe/site-view.ts'

/** Entries that a reference may lead to, by what somebody typed. */
export interface ChoiceQuestion {
  readonly targets: readonly string[]
  /** The key that references are compared with. Default: the id. */
  readonly by?: string
  /** What the label or the id must have in it. Default: anything. */
  readonly text?: string
  /** What a reference says: of all entries only the one that it leads to. */
  readonly value?: string
  readonly limit?: number
}

/** An entry that a reference may lead to. */
export interface ChoiceView extends HeadView {
  /** What the reference has to say. */
  readonly value: string
  /** A picture of it, relative to the content folder, where it has one. */
  readonly picture?: string
}

const MOST = 50

/** Lists the entries that a reference may lead to: those whose label begins with what was typed first. */
export function listChoices(
  view: SiteView,
  { targets, by = 'id', text = '', value, limit = MOST }: ChoiceQuestion,
): readonly ChoiceView[] {
  const isOnly = targets.length === 1
  const wanted = fold(text)
  const found = targets.flatMap((target) => listEntryChoices(view.site.checked.collections, target, { by, isOnly }))
  const meant = value === undefined ? found : found.filter((choice) => choice.value === value)
  const ranked = meant.flatMap((choice) => {
    const label = fold(choice.label)
    const rank = label.startsWith(wanted) ? 0 : label.includes(wanted) ? 1 : fold(choice.value).includes(wanted) ? 2 : 3
    return rank < 3 ? [{ choice, rank }] : []
  })
  return ranked
    .sort((a, b) => a.rank - b.rank || a.choice.label.localeCompare(b.choice.label))
    .slice(0, limit)
    .map(({ choice: { value, entry } }) => {
      const picture = entry.assets.find((file) => /\.(?:png|jpe?g|webp|avif|gif|svg)$/i.test(file))
      return { ...describeHead(entry, view), value, ...(picture === undefined ? {} : { picture }) }
    })
}

const fold = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
