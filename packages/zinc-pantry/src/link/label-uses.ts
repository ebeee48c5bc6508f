import { groupBy } from '../diagnostics/group-by.ts'
import { hashOfPlainLabel, plainLabel } from './plain-label.ts'
import { createRepeats } from './repeats.ts'

/** A way in which a label is written: how often, and the number of the first entry that has it. */
export interface Writing {
  readonly text: string
  readonly count: number
  readonly row: number
}

/** The uses of the labels of a field. */
export interface LabelUses {
  /** The first look at a label, which gives its hash; all are looked at before any is added. */
  note(text: string): number
  /** Adds a label with its hash. Most of large collections are used once and are like no other, and nothing is kept of those. */
  add(text: string, hash: number, row: number): void
  /** True where one of them is there again. */
  isAnyReused(): boolean
  /** Labels that are written in several ways. */
  alike(): Writing[][]
}

/** Counts the uses of labels, about so many. */
export function createLabelUses(count: number): LabelUses {
  const repeats = createRepeats(count)
  const byText = new Map<string, { readonly text: string; count: number; readonly row: number }>()
  let isAnyReused = false
  return {
    note(text) {
      const hash = hashOfPlainLabel(text)
      repeats.note(hash)
      return hash
    },
    add(text, hash, row) {
      const known = byText.get(text)
      if (known) {
        known.count++
        isAnyReused = true
      } else if (repeats.mayHave(hash)) byText.set(text, { text, count: 1, row })
    },
    isAnyReused: () => isAnyReused,
    alike() {
      const byPlain = groupBy([...byText.values()], ({ text }) => plainLabel(text))
      return [...byPlain.values()].filter(({ length }) => length > 1)
    },
  }
}
