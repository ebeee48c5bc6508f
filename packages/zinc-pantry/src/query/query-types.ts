import type { Condition, SortKey } from './condition.ts'
import type { ValueCount } from './count-values.ts'
import type { Picked, ValuesOf } from './handle-types.ts'
import type { QueryPlan } from './plan.ts'
import type { FoundWord } from './search-format.ts'
import type { StaticPages, StaticPagesOptions } from './static-pages.ts'

/**
 * A question about the entries of one collection. It is plain and immutable: every method gives a new
 * one, and nothing is read before it is asked for a result.
 */
export interface Query<Entry, Fields> {
  /**
   * Keeps the entries for which the condition holds; a second one must hold too. Wrong use is a `QueryError`: a value that
   * the field can never have, or a condition that is made and lost, as behind `&&` and `||`.
   */
  where(build: (fields: Fields) => Condition): Query<Entry, Fields>
  /**
   * Keeps the entries in which words are found, in what the collection's setting `search` names; the nearest come first
   * unless there is a sort. Endings may be left out, mistakes are forgiven in words that are found nowhere, and case and
   * marks make no difference. Entries that have more of the words stand above those that have fewer. `"two words"` must stand
   * beside each other, `+word` must be there, `-word` must not, `title:word` must be at a place that is searched; the last word may be
   * the beginning of one. A second search takes the place of the first.
   */
  search(words: string): Query<Entry, Fields>
  /**
   * Orders by one key or several, the first first. A second sort takes the place of the first. Default: the order of the
   * collection.
   */
  sort(build: (fields: Fields) => SortKey | readonly SortKey[]): Query<Entry, Fields>
  /** At most so many entries, from 0. A second limit takes the place of the first, as does a second offset. */
  limit(count: number): Query<Entry, Fields>
  /** Leaves out so many entries at the start, from 0. */
  offset(count: number): Query<Entry, Fields>
  /**
   * Gives chosen values instead of entries, in the form in which the fields are given. References are followed to any
   * depth; `each` goes through a list.
   *
   * @example
   * ```ts
   * import type { Query, TextHandle } from 'zinc-pantry/query'
   *
   * declare const trails: Query<object, { title: TextHandle; region: { name: TextHandle } }>
   * const cards = await trails.pick((trail) => ({ title: trail.title, region: trail.region.name })).toArray()
   * console.log(cards[0]?.region)
   * ```
   */
  pick<Spec>(build: (fields: Fields) => Spec): Query<Picked<Spec>, Fields>
  /** All entries that match, within limit and offset. */
  toArray(): Promise<readonly Entry[]>
  /** The first of them. */
  first(): Promise<Entry | undefined>
  /** How many match, whatever limit and offset say. */
  count(): Promise<number>
  /** The values that matching entries have at a field, each once, in order. */
  distinct<Handle>(build: (fields: Fields) => Handle): Promise<readonly ValuesOf<Handle>[]>
  /**
   * For each of some fields how many matching entries have each value, the most frequent first. Conditions that ask for
   * nothing but the field itself are left aside, so that a facet shows what else could be chosen. A list of fields counts
   * their values together; `{ by, label }` gives with each value what a field behind it says.
   *
   * @example
   * ```ts
   * import type { NumberHandle, Query, RefHandle, TextHandle } from 'zinc-pantry/query'
   *
   * interface Hut { region: RefHandle<string> & { name: TextHandle }; beds: NumberHandle }
   * declare const huts: Query<object, Hut>
   * const { region } = await huts.facets((hut) => ({ region: { by: hut.region, label: hut.region.name }, beds: hut.beds.band(0, 20) }))
   * console.log(region[0]?.value, region[0]?.label, region[0]?.count)
   * ```
   */
  facets<const Spec extends object>(build: (fields: Fields) => Spec): Promise<Facets<Spec>>
  /** The smallest and the largest value of a field; undefined where no matching entry has one. */
  range<Handle>(build: (fields: Fields) => Handle): Promise<ValueRange<ValuesOf<Handle>> | undefined>
  /** The number, sum, mean and bounds of the numbers at a field; the last three are null where no matching entry has one. */
  statistics<Handle>(build: (fields: Fields) => Handle): Promise<Statistics>
  /**
   * The matching entries by the value of a field, in the order of the values; of a list by each of its items. Those
   * without a value, and those with an empty list, are the last group, whose value is null. A list of fields makes a group of
   * each combination. With `limit` a group has its first entries only, and the others are not read.
   */
  groupBy<const Spec>(
    build: (fields: Fields) => Spec,
    options?: GroupOptions,
  ): Promise<readonly EntryGroup<GroupValue<Spec>, Entry>[]>
  /** A page of so many entries: the first, or that behind a cursor. Limit and offset are left aside. */
  page(options: PageOptions): Promise<Page<Entry>>
  /** Static pages: the first ones, and parts for the rest that are written beside them. Meant for builds. */
  pages(options: StaticPagesOptions): Promise<StaticPages<Entry>>
  /**
   * The entries before and behind one, in the order of the query; neither where the query does not match it. An id that
   * no entry has is an error.
   */
  neighbours(id: string): Promise<{ readonly previous: Entry | undefined; readonly next: Entry | undefined }>
  /**
   * Matching entries that share references with one, the nearest first. An id that no entry has is an error. Default: at
   * most 5.
   */
  related(id: string, options?: { readonly limit?: number }): Promise<readonly ScoredEntry<Entry>[]>
  /** After `search`: entries with their scores and with the words marked in pieces of text. */
  hits(options?: HitOptions): Promise<readonly Hit<Entry>[]>
  /**
   * What the last word of a text that is being typed may become, with the number of matching entries that have it, the most frequent
   * first. Words are in lower case and without marks, as search compares them. Default: at most 10.
   */
  completions(text: string, options?: { readonly limit?: number }): Promise<readonly Completion[]>
  /**
   * "Did you mean": the text with the nearest words in place of those that are found nowhere; undefined where there is nothing
   * to correct.
   */
  correction(text: string): Promise<string | undefined>
  /** How the query is answered: which index serves which part, what is looked at and read. */
  plan(): Promise<QueryPlan>
  [Symbol.asyncIterator](): AsyncIterator<Entry>
}

/** The counts of several fields. */
export type Facets<Spec> = { readonly [Key in keyof Spec]: readonly FacetCount<Spec[Key]>[] }

/** A count of a field, of several together, or with a label. */
type FacetCount<Of> = Of extends readonly unknown[]
  ? ValueCount<GroupValue<Of>>
  : Of extends { readonly by: infer By; readonly label: infer Label }
    ? LabelledCount<ValuesOf<By>, ValuesOf<Label>>
    : ValueCount<ValuesOf<Of>>

/** A value, what it is called, and how many entries have it. */
export interface LabelledCount<Value, Label> extends ValueCount<Value> {
  /** Null where there is none. */
  readonly label: Label | null
}

/** The value of a group: of several fields their values, each null where there is none. */
export type GroupValue<Spec> = Spec extends readonly unknown[]
  ? { readonly [Place in keyof Spec]: ValuesOf<Spec[Place]> | null }
  : ValuesOf<Spec> | null

/** How much of groups is given. */
export interface GroupOptions {
  /** At most so many entries of a group, the first in the order of the query. Default: all. */
  readonly limit?: number
}

/** What is known of some numbers together. */
export interface Statistics {
  /** How many numbers there are. */
  readonly count: number
  readonly sum: number
  readonly mean: number | null
  readonly minimum: number | null
  readonly maximum: number | null
}

/** The smallest and the largest of some values. */
export interface ValueRange<Value> {
  readonly minimum: Value
  readonly maximum: Value
}

/** The entries that have a value. */
export interface EntryGroup<Value, Entry> {
  readonly value: Value
  /** How many entries the group has. */
  readonly count: number
  readonly entries: readonly Entry[]
}

/** Which page. */
export interface PageOptions {
  /** Entries a page, from 1. */
  readonly size: number
  /** The `next` of the page before. It stays good when content changes. Default: the first page. */
  readonly after?: string | undefined
}

/** One page of a query. */
export interface Page<Entry> {
  readonly entries: readonly Entry[]
  /** How many match in all. */
  readonly total: number
  /** A cursor for the next page, or null where there is none. */
  readonly next: string | null
}

/** An entry and how near it is to another. */
export interface ScoredEntry<Entry> {
  readonly entry: Entry
  /** Larger for what is nearer. */
  readonly score: number
}

/** How found entries are shown. */
export interface HitOptions {
  /** Entries, from 1. Default: 10. */
  readonly limit?: number
  /** About so many characters are shown of a text. Default: 160. */
  readonly length?: number
}

/** A word that is being typed, completed. */
export interface Completion {
  /** The whole text with the word in it. */
  readonly text: string
  readonly word: string
  /** How many entries have it. */
  readonly count: number
}

/** An entry that was found. */
export interface Hit<Entry> {
  readonly entry: Entry
  /** Larger for what is nearer. */
  readonly score: number
  /** The words that make up the score, the largest share first: which was searched for, which was found, and how one follows from the other. */
  readonly words: readonly FoundWord[]
  /** Pieces of the texts in which words were found, in the order of the setting `search`. */
  readonly matches: readonly Match[]
}

/** A piece of a text in which words were found. */
export interface Match {
  /** The path of the text, or `body`. */
  readonly path: string
  readonly pieces: readonly { readonly text: string; readonly isMatch: boolean }[]
}
