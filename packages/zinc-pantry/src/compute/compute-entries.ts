import type { Diagnostic } from '../diagnostics/diagnostic.ts'
import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { BlockFields, PatternMatcher } from '../schema/field.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { computeReverse, type ReverseMemory } from './compute-reverse.ts'
import { createDeriver, type Deriver, NOTHING_SEEN, type Seen } from './derive.ts'
import { type RuleMemory, runRules } from './run-rules.ts'

/** What was computed in earlier runs, so that nothing is computed again whose sources are as they were. */
export interface ComputeMemory {
  readonly reverse: ReverseMemory
  readonly derived: Map<string, ListMemory<LinkedEntry, LinkedEntry>>
  /** What the functions that made an entry looked at, where they looked at anything else. */
  readonly seen: WeakMap<LinkedEntry, Seen>
  /** Entries with problems, which are to be told again. */
  readonly failed: WeakSet<LinkedEntry>
  readonly rules: RuleMemory
  /** The entries of each collection as they were last. */
  readonly last: Map<string, readonly LinkedEntry[]>
}

/** Makes an empty memory. */
export const createComputeMemory = (): ComputeMemory => ({
  reverse: new Map(),
  derived: new Map(),
  seen: new WeakMap(),
  failed: new WeakSet(),
  rules: new Map(),
  last: new Map(),
})

/** What computing takes. */
export interface ComputeOptions {
  readonly blocks: BlockFields
  readonly matches: PatternMatcher
  readonly memory?: ComputeMemory | undefined
  /** Default: true. */
  readonly hasRules?: boolean
}

/**
 * Computes what is not written: reverse references first, then derived fields, which may read each other and
 * other entries in any order; rules last, where they are asked for.
 */
export function computeEntries(
  collections: readonly LinkedCollection[],
  { blocks, matches, memory, hasRules = true }: ComputeOptions,
): { computed: readonly LinkedCollection[]; diagnostics: Diagnostic[] } {
  const diagnostics: Diagnostic[] = []
  const reversed = computeReverse(collections, blocks, memory?.reverse).map((one) => keepSame(one, memory))
  const withRules = hasRules && reversed.some(({ collection }) => collection.rules.length > 0)
  const withDerived = reversed.some(({ collection }) => Object.keys(collection.derived).length > 0)
  if (!withRules && !withDerived) return { computed: reversed, diagnostics }
  const report = (diagnostic: Diagnostic): void => void diagnostics.push(diagnostic)
  const deriver = createDeriver(reversed, { blocks, matches, report })
  const computed = reversed.map((one) => {
    if (Object.keys(one.collection.derived).length === 0) return one
    const make = (entry: LinkedEntry): LinkedEntry => deriveEntry(entry, deriver, memory)
    const isRight = (known: LinkedEntry): boolean =>
      !memory?.failed.has(known) && deriver.isSame(memory?.seen.get(known) ?? NOTHING_SEEN)
    const { name } = one.collection
    return { ...one, entries: mapAgain(memoryOf(memory?.derived, name), one.entries, { make, isRight }) }
  })
  if (withRules) runRules(reversed, deriver, { report, memory: memory?.rules })
  return { computed, diagnostics }
}

/** A collection with the very list of the last run, where its entries are the same. */
function keepSame(one: LinkedCollection, memory: ComputeMemory | undefined): LinkedCollection {
  const { collection, entries } = one
  const last = memory?.last.get(collection.name)
  if (last?.length === entries.length && last.every((entry, at) => entry === entries[at]))
    return { collection, entries: last }
  memory?.last.set(collection.name, entries)
  return one
}

function deriveEntry(entry: LinkedEntry, deriver: Deriver, memory: ComputeMemory | undefined): LinkedEntry {
  if (!entry.data) return entry
  const { result: data, seen } = deriver.watch(() => deriver.dataOf(entry))
  const isSound = !deriver.hasFailed(entry)
  const derived: LinkedEntry = isSound ? { ...entry, data } : { ...entry, data, isUnsound: true }
  if (!isSound) memory?.failed.add(derived)
  if (seen.size > 0) memory?.seen.set(derived, seen)
  return derived
}
