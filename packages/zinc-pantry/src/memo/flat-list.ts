import { areSame } from './are-same.ts'
import { changesBetween, noteChanges } from './list-changes.ts'

/** The items of lists in one, and where each list begins in it. */
export interface FlatList {
  readonly lists: readonly (readonly unknown[])[]
  readonly flat: readonly unknown[]
  readonly starts: readonly number[]
}

/** Puts the items of lists into one; where only few lists are others, and as long as before, only those are put in. */
export function flatten(last: FlatList | undefined, lists: readonly (readonly unknown[])[]): FlatList {
  const places = last && changesBetween(last.lists, lists)
  const isAsLong = (at: number): boolean => last?.lists[at]?.length === lists[at]?.length
  return last && places?.every(isAsLong) ? replaceLists(last, lists, places) : flattenAll(last, lists)
}

function replaceLists(last: FlatList, lists: FlatList['lists'], places: readonly number[]): FlatList {
  const flat = last.flat.slice()
  const changed: number[] = []
  for (const at of places) {
    const start = last.starts[at] as number
    for (const [offset, item] of (lists[at] as readonly unknown[]).entries()) {
      if (Object.is(flat[start + offset], item)) continue
      flat[start + offset] = item
      changed.push(start + offset)
    }
  }
  if (changed.length === 0) return { ...last, lists }
  noteChanges(flat, last.flat, changed)
  return { lists, flat, starts: last.starts }
}

function flattenAll(last: FlatList | undefined, lists: FlatList['lists']): FlatList {
  const flat: unknown[] = []
  const starts: number[] = []
  for (const list of lists) {
    starts.push(flat.length)
    for (const item of list) flat.push(item)
  }
  return { lists, flat: last && areSame(last.flat, flat) ? last.flat : flat, starts }
}
