import { checkRules } from '../../compute/check-rules.ts'
import { createDeriver, type Derived, type Deriver } from '../../compute/derive.ts'
import {
  createHistoryFinder,
  fillHistory,
  type HistoryValues,
  hasHistory,
  type SiteHistory,
} from '../../compute/fill-history.ts'
import { NOTHING_SEEN, type Seen } from '../../compute/lookups.ts'
import { createReferrerFinder, fillReverse, hasReverse, type Referrers } from '../../compute/reverse.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { isGroup } from '../../diagnostics/own-key.ts'
import type { LinkedCollection } from '../../link/link-entry.ts'
import { versionKey } from '../../link/pages.ts'
import { areSame, areSameMaps } from '../../memo/are-same.ts'
import type { Memo } from '../../memo/memo.ts'
import type { PatternMatcher } from '../../schema/check-run.ts'
import type { RuledBody } from '../../schema/computation.ts'
import type { BlockFields } from '../../schema/kind.ts'
import type { CollectionModel } from '../../schema/model.ts'
import type { EntryBody, LinkedEntry } from '../../validate/entry.ts'
import { concatenate } from '../../values/concatenate.ts'

/** Entries with all that is computed. */
export interface ComputedSite {
  readonly computed: readonly LinkedCollection[]
  readonly diagnostics: readonly Diagnostic[]
  readonly steps: readonly ComputedCollection[]
}

/** The entries of a collection before and after each step, in the same places. */
interface ComputedCollection {
  readonly collection: CollectionModel
  readonly linked: readonly LinkedEntry[]
  readonly reversed: readonly LinkedEntry[]
  /** Undefined where the collection derives nothing. */
  readonly derived: readonly Derived[] | undefined
}

/** The options of computing. */
export interface ComputeOptions {
  readonly blocks: BlockFields
  readonly matches: PatternMatcher
  /** What a body says of itself. */
  bodyOf(body: EntryBody): RuledBody
  readonly history: SiteHistory
  /** That of the model; rules and derived fields are functions beside it. */
  readonly outline: object
}

/**
 * Computes what is not written: reverse references first, then derived fields, which may read each other and other
 * entries in any order; rules last.
 */
export function computeSite(
  memo: Memo,
  collections: readonly LinkedCollection[],
  { blocks, matches, bodyOf, history, outline }: ComputeOptions,
): ComputedSite {
  const dated = dateSite(memo, collections, { history, outline })
  const reversed = reverseSite(memo, dated, { blocks, outline, known: () => undefined })
  const deriver = createDeriver(reversed, { blocks, matches, bodyOf })
  const steps = deriveSite(memo, { collections, reversed, deriver, known: () => undefined })
  const rules = reversed.flatMap(({ collection, entries }) =>
    collection.rules.length === 0
      ? []
      : memo.within(collection.name).map('rules', entries, {
          inputs: [collection],
          look: (_, key: string) => deriver.lookUp(key),
          make(entry, read) {
            const { seen, diagnostics } = checkRules(collection.rules, entry, deriver)
            for (const key of seen.keys()) read(key)
            return diagnostics
          },
          // An entry stays the same where what stands above it was changed, and its problems stand elsewhere.
          isKept: (diagnostics) => diagnostics.length === 0,
        }),
  )
  return gather(memo, steps, concatenate(rules))
}

/**
 * Computes again without what is not to be seen, which must leave no trace in what is computed either. An entry for which
 * nothing that it is made of is different is that of the whole site.
 */
export function computePublished(
  memo: Memo,
  collections: readonly LinkedCollection[],
  { whole, ...options }: ComputeOptions & { readonly whole: ComputedSite },
): ComputedSite {
  const { blocks, matches, bodyOf, history, outline } = options
  const known = whole.steps.map(({ linked, reversed, derived }) => ({
    reversed: new Map(linked.map((entry, at) => [entry, reversed[at] as LinkedEntry])),
    derived: new Map(derived?.map((one, at) => [reversed[at] as LinkedEntry, one])),
  }))
  const dated = dateSite(memo, collections, { history, outline })
  const reversed = reverseSite(memo, dated, { blocks, outline, known: (at, entry) => known[at]?.reversed.get(entry) })
  const deriver = createDeriver(reversed, { blocks, matches, bodyOf })
  const isSame = ([key, value]: readonly [string, unknown]): boolean => deriver.lookUp(key) === value
  const findDerived = (at: number, entry: LinkedEntry): Derived | undefined => {
    const one = known[at]?.derived.get(entry)
    return one?.diagnostics.length === 0 && [...one.seen].every(isSame) ? one : undefined
  }
  return gather(memo, deriveSite(memo, { collections, reversed, deriver, known: findDerived }), [])
}

/** Entries with what is known of their changes. */
const dateSite = (
  memo: Memo,
  collections: readonly LinkedCollection[],
  { history, outline }: Pick<ComputeOptions, 'history' | 'outline'>,
): readonly LinkedCollection[] =>
  collections.map(({ collection, entries }) => {
    if (!hasHistory(collection)) return { collection, entries }
    const find = createHistoryFinder(collection, history)
    const dated = memo.within(collection.name).map('dated', entries, {
      inputs: [outline],
      look: (entry) => find(entry),
      make: (entry, read: (key: null) => HistoryValues) => fillHistory(entry, read(null)),
      isSameRead: isSameHistory,
    })
    return { collection, entries: dated }
  })

const isSameHistory = (one: HistoryValues, other: HistoryValues): boolean =>
  one.every(([, value], at) => value === other[at]?.[1])

/** Finds what was made of an entry of a collection, which is told by its number, for the whole site. */
type FindKnown<Made> = (at: number, entry: LinkedEntry) => Made | undefined

function reverseSite(
  memo: Memo,
  collections: readonly LinkedCollection[],
  { blocks, outline, known }: Pick<ComputeOptions, 'blocks' | 'outline'> & { readonly known: FindKnown<LinkedEntry> },
): readonly LinkedCollection[] {
  return collections.map((one, at) => {
    const { collection } = one
    const own = memo.within(collection.name)
    const entries = own.keepEqual('entries', one.entries, areSame)
    if (!hasReverse(collection)) return { collection, entries }
    const find = createReferrerFinder(one, collections, blocks)
    const fill = (entry: LinkedEntry, read: (key: null) => ReturnType<typeof find>): LinkedEntry => {
      const referrers = read(null)
      const whole = known(at, entry)
      const isWhole =
        whole?.data !== undefined && referrers.every(([name, ids]) => areSame(ids, whole.data?.[name] as typeof ids))
      return isWhole ? whole : fillReverse(entry, referrers)
    }
    const reversed = own.map('reversed', entries, {
      inputs: [outline],
      look: (entry) => find(entry),
      make: fill,
      isSameRead: isSameReferrers,
    })
    return { collection, entries: reversed }
  })
}

const isSameReferrers = (one: Referrers, other: Referrers): boolean =>
  one.every(([, ids], at) => areSame(ids, other[at]?.[1] ?? []))

interface Deriving {
  readonly collections: readonly LinkedCollection[]
  readonly reversed: readonly LinkedCollection[]
  readonly deriver: Deriver
  readonly known: FindKnown<Derived>
}

function deriveSite(memo: Memo, { collections, reversed, deriver, known }: Deriving): readonly ComputedCollection[] {
  return reversed.map(({ collection, entries }, at) => {
    const linked = collections[at]?.entries ?? []
    if (Object.keys(collection.derived).length === 0)
      return { collection, linked, reversed: entries, derived: undefined }
    const derived = memo.within(collection.name).map('derived', entries, {
      inputs: [collection],
      look: (_, key: string) => deriver.lookUp(key),
      make(entry, read) {
        const one = known(at, entry) ?? deriver.derive(entry)
        for (const key of one.seen.keys()) read(key)
        return one
      },
      isEqual: isSameDerived,
      // What failed tells its problem again, and those of what it read.
      isKept: ({ diagnostics }) => diagnostics.length === 0,
    })
    return { collection, linked, reversed: entries, derived }
  })
}

/** True for what other functions made the same of the same entry, without a problem. */
const isSameDerived = (one: Derived, other: Derived): boolean =>
  one.diagnostics.length + other.diagnostics.length === 0 &&
  areSameMaps(one.seen, other.seen) &&
  isSameBut(one.entry, other.entry, (data, last, name) => name === 'data' && isSameBut(data, last, isSameJson))

const isSameJson = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)

/** True for objects that hold the very same, but for what some other test finds the same. */
function isSameBut(
  one: unknown,
  other: unknown,
  test: (one: unknown, other: unknown, name: string) => boolean,
): boolean {
  if (!isGroup(one) || !isGroup(other)) return Object.is(one, other)
  if (!areSame(Object.keys(one), Object.keys(other))) return false
  for (const name in one) if (!Object.is(one[name], other[name]) && !test(one[name], other[name], name)) return false
  return true
}

const gather = (
  memo: Memo,
  steps: readonly ComputedCollection[],
  diagnostics: readonly Diagnostic[],
): ComputedSite => ({
  computed: steps.map(({ collection, reversed, derived }) => {
    const own = memo.within(collection.name)
    const entries = derived && own.map('computed', derived, { make: ({ entry }) => entry })
    return { collection, entries: entries ?? reversed }
  }),
  diagnostics: [
    ...steps.flatMap(({ collection, derived = [] }) => {
      const own = memo.within(collection.name)
      return own.flat('problems', own.map('problems of each', derived, { make: (one) => one.diagnostics }))
    }),
    ...diagnostics,
  ],
  steps,
})

/** Makes what tells what the derived fields of an entry looked at. */
export function createSeenFinder({ steps }: ComputedSite): (entry: LinkedEntry) => Seen {
  const seen = new Map(
    steps.flatMap(({ derived = [] }) => derived.map((one) => [versionKey(one.entry), one.seen] as const)),
  )
  return (entry) => seen.get(versionKey(entry)) ?? NOTHING_SEEN
}
