import type { EntryChoice } from '../change/entry-choices.ts'
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
  const found = targets.flatMap((target) =>
    view.choicesOf(target, by).map((choice) => (isOnly ? choice : { ...choice, value: `${target}/${choice.value}` })),
  )
  const meant = value === undefined ? found : found.filter((choice) => choice.value === value)
  // Those whose label begins with it, those whose label has it, those whose id has it.
  const ranks: [EntryChoice[], EntryChoice[], EntryChoice[]] = [[], [], []]
  for (const choice of meant) {
    const label = fold(choice.label)
    const rank = label.startsWith(wanted) ? 0 : label.includes(wanted) ? 1 : fold(choice.value).includes(wanted) ? 2 : 3
    if (rank < 3) ranks[rank as 0 | 1 | 2].push(choice)
    if (ranks[0].length === limit) break
  }
  return ranks
    .flat()
    .slice(0, limit)
    .map(({ value, entry }) => {
      const picture = entry.assets.find((file) => /\.(?:png|jpe?g|webp|avif|gif|svg)$/i.test(file))
      return { ...describeHead(entry, view), value, ...(picture === undefined ? {} : { picture }) }
    })
}

/** A text in lower case, without marks on its letters. Most have none, and to look for them takes longer than all else. */
const fold = (text: string): string =>
  /^[ -~]*$/.test(text) ? text.toLowerCase() : text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
