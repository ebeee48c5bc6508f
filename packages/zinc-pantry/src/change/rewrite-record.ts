import { groupBy } from '../diagnostics/group-by.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { appendRecords } from './append-records.ts'
import { arrangeItems } from './arrange-items.ts'
import { canonical, editValue } from './edit-value.ts'
import { type EditedSource, type TextEdit, withEdits } from './edited-source.ts'
import { removeItem } from './remove-item.ts'
import { writeValue } from './write-value.ts'

/** A record that is to be another one, in the text that it stands in. */
export interface RecordRewrite {
  /** Where it stands in its document. */
  readonly path: readonly PathSegment[]
  /** As it is now and as it is to be, by the keys that it is written with. */
  readonly before: unknown
  readonly after: unknown
  /** The order of the keys of a group at a path below the record. */
  orderOf(path: readonly PathSegment[]): readonly string[] | undefined
}

/** A text in which a record is another one, and the paths of what a person has to write. */
export interface RewrittenRecord {
  readonly source: EditedSource
  readonly failed: readonly (readonly PathSegment[])[]
}

/**
 * Rewrites a record by what differs in it, and nothing else: values in their places, items of lists taken out, put in and moved with
 * their comments. Each step is proved by reading the text again.
 */
export function rewriteRecord(source: EditedSource, { path, before, after, orderOf }: RecordRewrite): RewrittenRecord {
  const failed: (readonly PathSegment[])[] = []
  let now = source
  const step = (at: readonly PathSegment[], next: EditedSource | undefined): void => {
    if (next) now = next
    else failed.push(at)
  }
  const edited = (edit: TextEdit | undefined): EditedSource | undefined => edit && withEdits(now, [edit])
  const write = (at: readonly PathSegment[], old: unknown, fresh: unknown): void => {
    if (canonical(old ?? null) === canonical(fresh ?? null)) return
    if (isGroup(old) && isGroup(fresh) && at.length > 0 && Object.keys(fresh).length === 0) {
      // What is left without keys is written in another way.
      set(at, undefined)
      set(at, fresh)
    } else if (isGroup(old) && isGroup(fresh)) writeGroup(at, old, fresh)
    else if (Array.isArray(old) && Array.isArray(fresh) && isListThere(at, old, fresh)) writeList(at, old, fresh)
    else set(at, fresh ?? undefined)
  }
  /** True where items can be changed one by one: a list that is written as such, and goes on to have items. */
  const isListThere = (at: readonly PathSegment[], old: readonly unknown[], fresh: readonly unknown[]): boolean => {
    const written = valueAt(now.document.value, [...path, ...at])
    return (
      !now.format.hasCells &&
      Array.isArray(written) &&
      written.length === old.length &&
      fresh.length > 0 &&
      old.length > 0
    )
  }
  const set = (at: readonly PathSegment[], value: unknown): void => {
    const own = [...path, ...at]
    const edit =
      typeof at.at(-1) === 'number'
        ? replaceItem(now, own, value)
        : editValue(now, own, value, { order: orderOf(at.slice(0, -1)), isWhole: value === undefined })
    step(at, edited(edit))
  }
  const writeGroup = (
    at: readonly PathSegment[],
    old: Readonly<Record<string, unknown>>,
    fresh: Readonly<Record<string, unknown>>,
  ): void => {
    for (const key of new Set([...Object.keys(fresh), ...Object.keys(old)])) write([...at, key], old[key], fresh[key])
  }
  const writeList = (at: readonly PathSegment[], old: readonly unknown[], fresh: readonly unknown[]): void => {
    const pairs = pairItems(old, fresh)
    for (const [position, from] of pairs.entries())
      if (from !== undefined) write([...at, from], old[from], fresh[position])
    const own = [...path, ...at]
    const kept = pairs.filter((from): from is number => from !== undefined).toSorted((a, b) => a - b)
    const added = fresh.filter((_, position) => pairs[position] === undefined)
    // Put in first, since a list without items is written in another way.
    for (const item of added) step(at, appendItem(now, own, item))
    const places = new Map(kept.map((from, at) => [from, at]))
    const gone = [...old.keys()].filter((position) => !places.has(position))
    for (const position of gone.reverse()) step(at, edited(removeItem(now, [...own, position])))
    let next = kept.length
    const order = pairs.map((from) => (from === undefined ? next++ : (places.get(from) as number)))
    if (order.some((from, position) => from !== position)) step(at, arrangeItems(now, own, order))
  }
  write([], before, after)
  return { source: now, failed }
}

/** The old position of each new item: that of the same, or of one that it was made from; undefined for a new one. */
function pairItems(old: readonly unknown[], fresh: readonly unknown[]): readonly (number | undefined)[] {
  const texts = old.map(canonical)
  const left = new Set(old.keys())
  // The first stands last, where it is taken from.
  const same = groupBy([...old.keys()].reverse(), (at) => texts[at])
  const takeSame = (text: string): number | undefined => {
    const own = same.get(text) ?? []
    for (let at = own.pop(); at !== undefined; at = own.pop()) if (left.has(at)) return at
    return undefined
  }
  const pairs: (number | undefined)[] = fresh.map((item, position) => {
    const text = canonical(item)
    const at = texts[position] === text && left.has(position) ? position : takeSame(text)
    if (at !== undefined) left.delete(at)
    return at
  })
  const isLonger = fresh.length > old.length
  for (const [position, item] of fresh.entries()) {
    if (pairs[position] !== undefined || left.size === 0) continue
    const likely = firstOf(left, (at) => at === position || isAlike(old[at], item))
    const at = likely ?? (isLonger ? undefined : left.keys().next().value)
    if (at === undefined || isGroup(old[at]) !== isGroup(item)) continue
    pairs[position] = at
    left.delete(at)
  }
  return pairs
}

/** The first for which a test holds; a list of all is not made. */
function firstOf<Item>(items: Iterable<Item>, isWanted: (item: Item) => boolean): Item | undefined {
  for (const item of items) if (isWanted(item)) return item
  return undefined
}

/** True for groups of which at least half of the values are the same. */
function isAlike(one: unknown, other: unknown): boolean {
  if (!isGroup(one) || !isGroup(other)) return false
  const keys = [...new Set([...Object.keys(one), ...Object.keys(other)])]
  return keys.filter((key) => canonical(one[key] ?? null) === canonical(other[key] ?? null)).length * 2 >= keys.length
}

/** A single value of a list in the place of another. */
function replaceItem(source: EditedSource, path: readonly PathSegment[], value: unknown): TextEdit | undefined {
  const span = source.document.locate(path, 'value')
  const text = writeValue(value, source.text.slice(...span), source.format.name)
  return text === undefined ? undefined : { span, text }
}

/** An item behind the last of a list. */
function appendItem(source: EditedSource, path: readonly PathSegment[], item: unknown): EditedSource | undefined {
  if (isGroup(item)) {
    const edit = appendRecords(source, path, [{ value: item, comments: new Map() }])
    if (edit) return withEdits(source, [edit])
  }
  const items = valueAt(source.document.value, path)
  const edit = Array.isArray(items) ? editValue(source, path, [...items, item]) : undefined
  return edit && withEdits(source, [edit])
}
