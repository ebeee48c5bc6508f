import { areSame } from './are-same.ts'
import { changesBetween, noteChanges } from './list-changes.ts'
import type { Making } from './making.ts'

/** The results of a function over a list, side by side with the items. */
export interface MemoizedMap {
  readonly inputs: readonly unknown[]
  readonly answeredFrom: readonly unknown[] | undefined
  readonly items: readonly unknown[]
  /** The keys of the items. */
  readonly keys: readonly unknown[]
  readonly made: readonly unknown[]
  /** The reads of each result; undefined for a result that is not kept. */
  readonly reads: readonly (Reads | undefined)[]
  /** The places of results that are not kept, and of those that read something; undefined where they are many. */
  readonly unkept: readonly number[] | undefined
  readonly reading: readonly number[] | undefined
  /** The places of the items by their keys, made when they are asked for. */
  places?: ReadonlyMap<unknown, number>
}

/** Keys and values in turn: pairs of their own were a tenth of the memory of a session. */
type Reads = readonly unknown[]

const NO_INPUTS: readonly unknown[] = []
const NO_READS: Reads = []

/** The number of items that stand elsewhere than the last time after which places are looked up. */
const MANY_MOVED = 64
/** The number of places beyond which they are not told one by one. */
const MANY_PLACES = 1024

/**
 * Makes something of every item, or takes what was made of the very same item the last time, wherever it stood. In a
 * list of ten thousand of which one changed, the others are not looked at where the list says which one that is, and cost a
 * comparison each where it does not.
 */
export function mapMemoized<Item, Made, Key, Read>(
  last: MemoizedMap | undefined,
  items: readonly Item[],
  making: Making<Item, Made, Key, Read>,
): MemoizedMap {
  const { inputs = NO_INPUTS, keyOf, answeredFrom } = making
  const known = last && areSame(last.inputs, inputs) ? last : undefined
  const keys = !keyOf ? items : known?.items === items ? known.keys : items.map(keyOf)
  const isAnswered = answeredFrom !== undefined && areSame(known?.answeredFrom ?? NO_INPUTS, answeredFrom)
  const run = { known, last, items, keys, isAnswered, making }
  const made = known && known.keys.length === keys.length ? mapPlaces(run, known) : undefined
  return { inputs, answeredFrom, items, keys, ...(made ?? mapAll(run)) }
}

/** One run over a list. */
interface MapRun<Item, Made, Key, Read> {
  /** The last time, where the inputs were the same. */
  readonly known: MemoizedMap | undefined
  readonly last: MemoizedMap | undefined
  readonly items: readonly Item[]
  readonly keys: readonly unknown[]
  readonly isAnswered: boolean
  readonly making: Making<Item, Made, Key, Read>
}

type Results = Pick<MemoizedMap, 'made' | 'reads' | 'unkept' | 'reading' | 'places'>

/** Looks at those places only at which something may be different; undefined where all may. */
function mapPlaces<Item, Made, Key, Read>(run: MapRun<Item, Made, Key, Read>, known: MemoizedMap): Results | undefined {
  const { keys, isAnswered, making } = run
  const moved = changesBetween(known.keys, keys) ?? findMoved(known.keys, keys)
  const asked = isAnswered ? NO_PLACES : placesToAsk(known, making.dirty)
  if (!moved || !asked || !known.unkept) return undefined
  const { made: lastMade, places } = known
  const kept = moved.length === 0 && places ? { places } : {}
  const others = new Set(moved)
  for (const at of [...asked, ...known.unkept]) if (!others.has(at) && !stands(run, at, at)) others.add(at)
  if (others.size === 0) return { ...pickResults(known), ...kept }
  const results = [...others].map((at) => ({ at, ...makeAt(run, at) }))
  const changed = results.filter(({ at, one }) => !Object.is(one, lastMade[at]))
  const made = replaceAt(
    lastMade,
    changed.map(({ at, one }) => [at, one]),
  )
  if (changed.length > 0)
    noteChanges(
      made,
      lastMade,
      changed.map(({ at }) => at),
    )
  const isOther = ({ at, own }: { readonly at: number; readonly own: Reads | undefined }) => own !== known.reads[at]
  const reads = replaceAt(
    known.reads,
    results.filter(isOther).map(({ at, own }) => [at, own]),
  )
  const update = (all: readonly number[] | undefined, isOne: (own: Reads | undefined) => boolean) =>
    all && few([...all.filter((at) => !others.has(at)), ...[...others].filter((at) => isOne(reads[at]))])
  return { made, reads, unkept: update(known.unkept, isUnkept), reading: update(known.reading, isReading), ...kept }
}

/** A list with something else at some places; itself where there are none, since copies of thousands of items add up. */
function replaceAt<Item>(
  list: readonly Item[],
  replaced: readonly (readonly [at: number, item: Item])[],
): readonly Item[] {
  if (replaced.length === 0) return list
  const copy = list.slice()
  for (const [at, item] of replaced) copy[at] = item
  return copy
}

const NO_PLACES: readonly number[] = []

const pickResults = ({ made, reads, unkept, reading }: MemoizedMap): Results => ({ made, reads, unkept, reading })

const isUnkept = (own: Reads | undefined): boolean => own === undefined
const isReading = (own: Reads | undefined): boolean => own !== undefined && own !== NO_READS

const few = (places: readonly number[]): readonly number[] | undefined =>
  places.length > MANY_PLACES ? undefined : places

/** The places whose reads may be answered otherwise; undefined where they are many. */
function placesToAsk(known: MemoizedMap, dirty: ReadonlySet<unknown> | undefined): readonly number[] | undefined {
  if (!dirty || known.reading?.length === 0) return known.reading
  const places = placesOf(known)
  return [...dirty].flatMap((key) => places.get(key) ?? [])
}

function placesOf(known: MemoizedMap): ReadonlyMap<unknown, number> {
  known.places ??= new Map(known.keys.map((key, place) => [key, place]))
  return known.places
}

/** The places at which another key stands than the last time; undefined where they are many. */
function findMoved(last: readonly unknown[], keys: readonly unknown[]): readonly number[] | undefined {
  const moved: number[] = []
  for (let at = 0; at < keys.length; at++) {
    if (last[at] === keys[at]) continue
    if (moved.length === MANY_MOVED) return undefined
    moved.push(at)
  }
  return moved
}

/** Goes through the whole list. What is the same all over stays the list of the last time. */
function mapAll<Item, Made, Key, Read>(run: MapRun<Item, Made, Key, Read>): Results {
  const { known, last, items, keys } = run
  const isSameLength = known?.keys.length === items.length
  const made: unknown[] = new Array(items.length)
  const reads: (Reads | undefined)[] = new Array(items.length)
  const unkept: number[] = []
  const reading: number[] = []
  const changed: number[] = []
  let moved = 0
  const indexOf = (at: number): number => {
    if (!known) return -1
    if (known.keys[at] === keys[at] && at < known.keys.length) return at
    if (++moved < MANY_MOVED && isSameLength) return -1
    return placesOf(known).get(keys[at]) ?? -1
  }
  for (let at = 0; at < items.length; at++) {
    const before = indexOf(at)
    if (before !== -1 && stands(run, at, before)) {
      made[at] = known?.made[before]
      reads[at] = known?.reads[before]
    } else ({ one: made[at], own: reads[at] } = makeAt(run, at))
    const own = reads[at]
    if (own === undefined) unkept.push(at)
    else if (own !== NO_READS) reading.push(at)
    if (last && !Object.is(made[at], last.made[at])) changed.push(at)
  }
  const results = { reads, unkept: few(unkept), reading: few(reading) }
  if (!last || last.made.length !== made.length) return { made, ...results }
  if (changed.length === 0) return { made: last.made, ...results }
  if (few(changed)) noteChanges(made, last.made, changed)
  return { made, ...results }
}

/** True where what was made at a place the last time is what would be made now. */
function stands<Item, Made, Key, Read>(
  { known, items, keys, isAnswered, making }: MapRun<Item, Made, Key, Read>,
  at: number,
  before: number,
): boolean {
  const reads = known?.reads[before]
  if (reads === undefined) return false
  if (reads === NO_READS || isAnswered || making.dirty?.has(keys[at]) === false) return true
  const isSameRead = making.isSameRead ?? Object.is
  for (let one = 0; one < reads.length; one += 2)
    if (!isSameRead(reads[one + 1] as Read, making.look?.(items[at] as Item, reads[one] as Key) as Read)) return false
  return true
}

/** Makes the result at a place. */
function makeAt<Item, Made, Key, Read>(
  { last, items, making }: MapRun<Item, Made, Key, Read>,
  at: number,
): { readonly one: Made; readonly own: Reads | undefined } {
  const { look, make, isEqual, isKept, readsLater = false } = making
  const reads: unknown[] = []
  const item = items[at] as Item
  const one = make(item, (key) => {
    const value = look?.(item, key) as Read
    reads.push(key, value)
    return value
  })
  const old = last?.made[at] as Made
  const isAsLast = last !== undefined && at < last.made.length && isEqual?.(old, one) === true
  // What is made later may read later, so that the list of its reads must be there from the start.
  const own = reads.length > 0 || readsLater ? reads : NO_READS
  return { one: isAsLast ? old : one, own: (isKept?.(one) ?? true) ? own : undefined }
}
