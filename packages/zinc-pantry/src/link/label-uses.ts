import { plainLabel } from './plain-label.ts'
import { createRepeats } from './repeats.ts'

/** A way in which a label is written: how often, and the number of the first entry that has it. */
export interface Writing {
  readonly text: string
  readonly count: number
  readonly row: number
}

/** The uses of the labels of a field. */
export interface LabelUses {
  /** The first look at a label; all are looked at before any is added. */
  note(text: string): void
  /** Adds a label. Most of large collections are used once and are like no other, and nothing is kept of those. */
  add(text: string, row: number): void
  /** True where one of them is there again. */
  isAnyReused(): boolean
  /** Labels that are written in several ways. */
  alike(): Writing[][]
}

/** Counts the uses of labels, about so many. */
export function createLabelUses(count: number): LabelUses {
  const repeats = createRepeats(count)
  const byPlain = new Map<string, Map<string, Writing>>()
  let isAnyReused = false
  return {
    note: (text) => repeats.note(plainLabel(text)),
    add(text, row) {
      const plain = plainLabel(text)
      if (!repeats.mayHave(plain)) return
      const writings = byPlain.get(plain) ?? new Map<string, Writing>()
      byPlain.set(plain, writings)
      const known = writings.get(text)
      if (known) isAnyReused = true
      writings.set(text, known ? { ...known, count: known.count + 1 } : { text, count: 1, row })
    },
    isAnyReused: () => isAnyReused,
    alike: () => [...byPlain.values()].filter(({ size }) => size > 1).map((writings) => [...writings.values()]),
  }
}
