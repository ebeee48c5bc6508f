import { areSame } from './are-same.ts'
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
  /** True where nothing was read, and every result is kept. */
  readonly isPure: boolean
  /** The places of the items by their keys, made when they are asked for. */
  places?: ReadonlyMap<unknown, number>
}

/** Keys and values in turn: pairs of their own were a tenth of the memory of a session. */
type Reads = readonly unknown[]

const NO_INPUTS: readonly unknown[] = []
const NO_READS: Reads = []

/** The number of items that stand elsewhere than the last time after which places are looked up. */
const MANY_MOVED = 64

/**
 * Makes something of every item, or takes what was made of the very same item the last time, wherever it stood. In a
 * list of ten thousand of which one changed, the others cost a comparison each: what was made of them is not touched.
 */
export function mapMemoized<Item, Made, Key, Read>(
  last: MemoizedMap | undefined,
  items: readonly Item[],
  making: Making<Item, Made, Key, Read>,
): MemoizedMap {
  const { inputs = NO_INPUTS, keyOf, make, look, answeredFrom, dirty, isEqual, isKept } = making
  const isSameRead = making.isSameRead ?? Object.is
  const known = last && areSame(last.inputs, inputs) ? last : undefined
  if (known?.isPure && known.items === items) return known
  const keys = !keyOf ? items : known?.items === items ? known.keys : items.map(keyOf)
  const isAnswered = answeredFrom !== undefined && areSame(known?.answeredFrom ?? NO_INPUTS, answeredFrom)
  const stands = (at: number, item: Item, before: number): boolean => {
    const reads = known?.reads[before]
    if (reads === undefined) return false
    if (reads === NO_READS || isAnswered || dirty?.has(keys[at]) === false) return true
    for (let one = 0; one < reads.length; one += 2)
      if (!isSameRead(reads[one + 1] as Read, look?.(item, reads[one] as Key) as Read)) return false
    return true
  }
  const isSameLength = known !== undefined && known.keys.length === items.length
  const makeAt = (at: number): { readonly one: Made; readonly own: Reads | undefined } => {
    // What is made later may read later, so that the list of its reads must be there from the start.
    const own: unknown[] | undefined = look && []
    const item = items[at] as Item
    const one = make(item, (key) => {
      const value = look?.(item, key) as Read
      own?.push(key, value)
      return value
    })
    const old = last?.made[at] as Made
    const isAsLast = last !== undefined && at < last.made.length && isEqual?.(old, one) === true
    return { one: isAsLast ? old : one, own: (isKept?.(one) ?? true) ? (own ?? NO_READS) : undefined }
  }
  const others = known && isSameLength && (known.isPure || isAnswered) ? findOthers(known, keys) : undefined
  if (known && others) {
    if (others.length === 0) return { ...known, items, keys, answeredFrom }
    const [made, reads] = [known.made.slice(), known.reads.slice()]
    for (const at of others) {
      const { one, own } = makeAt(at)
      made[at] = one
      reads[at] = own
    }
    const isSame = others.every((at) => Object.is(made[at], known.made[at]))
    const isPure = known.isPure && others.every((at) => reads[at] === NO_READS)
    return { inputs, answeredFrom, items, keys, made: isSame ? known.made : made, reads, isPure }
  }
  // What is the same all over stays the list of the last time; it is copied where something is different.
  let made: unknown[] | undefined = isSameLength ? undefined : []
  let reads: (Reads | undefined)[] = []
  let isPure = isSameLength ? known.isPure : true
  let isSame = items.length === last?.made.length
  let moved = 0
  const indexOf = (at: number): number => {
    if (!known) return -1
    if (known.keys[at] === keys[at] && at < known.keys.length) return at
    if (++moved < MANY_MOVED && isSameLength) return -1
    known.places ??= new Map(known.keys.map((key, place) => [key, place]))
    return known.places.get(keys[at]) ?? -1
  }
  for (let at = 0; at < items.length; at++) {
    const item = items[at] as Item
    const before = indexOf(at)
    const isStanding = before !== -1 && stands(at, item, before)
    if (isStanding && before === at && isSameLength) continue
    if (!made && known) {
      made = known.made.slice()
      reads = known.reads.slice()
    }
    const all = made as unknown[]
    if (isStanding) {
      all[at] = known?.made[before]
      reads[at] = known?.reads[before]
    } else {
      const { one, own } = makeAt(at)
      all[at] = one
      reads[at] = own
    }
    if (reads[at] !== NO_READS) isPure = false
    if (isSame && !Object.is(all[at], last?.made[at])) isSame = false
  }
  if (!made && known) return { ...known, items, keys, answeredFrom }
  const list = isSame && last ? last.made : (made as unknown[])
  return { inputs, answeredFrom, items, keys, made: list, reads, isPure }
}

/** The places at which another item stands than the last time, or whose result is not kept; undefined where they are many. */
function findOthers(known: MemoizedMap, keys: readonly unknown[]): number[] | undefined {
  const others: number[] = []
  for (let at = 0; at < keys.length; at++) {
    if (known.keys[at] === keys[at] && known.reads[at] !== undefined) continue
    if (others.length === MANY_MOVED) return undefined
    others.push(at)
  }
  return others
}
