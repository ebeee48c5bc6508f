import { skipSpaces, trimEnd } from './view.ts'

/** The marker of an item of a list. */
export interface Marker {
  readonly isOrdered: boolean
  readonly number: number
  /** The sign that all items of a list share. */
  readonly sign: number
  /** Where the content of the item begins; behind the line where it is empty. */
  readonly content: number
}

const ORDERED = /(\d{1,9})([.)])/y

/** Reads the marker of an item at an offset; nothing where there is none. */
export function readMarker(text: string, at: number, end: number): Marker | undefined {
  const code = text.charCodeAt(at)
  if (code === 42 || code === 43 || code === 45) {
    if (isThematicBreak(text, at, end)) return undefined
    return finish(at + 1, { isOrdered: false, number: 0, sign: code })
  }
  if (code < 48 || code > 57) return undefined
  ORDERED.lastIndex = at
  const [all, digits, sign] = ORDERED.exec(text) ?? []
  if (all === undefined) return undefined
  return finish(at + all.length, { isOrdered: true, number: Number(digits), sign: (sign as string).charCodeAt(0) })

  function finish(behind: number, head: Omit<Marker, 'content'>): Marker | undefined {
    if (behind < end && text.charCodeAt(behind) !== 32) return undefined
    return { content: skipSpaces(text, behind, end), ...head }
  }
}

/** True for three or more of `*`, `-` or `_`, with spaces between. */
export function isThematicBreak(text: string, at: number, end: number): boolean {
  const code = text.charCodeAt(at)
  if (code !== 42 && code !== 45 && code !== 95) return false
  let count = 0
  for (let to = at; to < end; to++) {
    const next = text.charCodeAt(to)
    if (next === code) count++
    else if (next !== 32) return false
  }
  return count > 2
}

/** A heading that begins with `#`. */
export interface AtxHeading {
  readonly depth: 1 | 2 | 3 | 4 | 5 | 6
  /** Where its text begins and ends. */
  readonly start: number
  readonly end: number
}

export function readAtxHeading(text: string, at: number, end: number): AtxHeading | undefined {
  let depth = 0
  while (at + depth < end && text.charCodeAt(at + depth) === 35) depth++
  const behind = at + depth
  if (depth === 0 || depth > 6 || (behind < end && text.charCodeAt(behind) !== 32)) return undefined
  const start = skipSpaces(text, behind, end)
  let last = trimEnd(text, start, end)
  let closing = last
  while (closing > start && text.charCodeAt(closing - 1) === 35) closing--
  if (closing < last && (closing === start || text.charCodeAt(closing - 1) === 32)) last = trimEnd(text, start, closing)
  return { depth: depth as AtxHeading['depth'], start, end: last }
}

/** The first line of a fence. */
export interface Fence {
  readonly marker: number
  readonly size: number
  readonly lang: string | null
  readonly meta: string | null
}

export function readFence(text: string, at: number, end: number): Fence | undefined {
  const marker = text.charCodeAt(at)
  let behind = at
  while (behind < end && text.charCodeAt(behind) === marker) behind++
  const size = behind - at
  if (size < 3) return undefined
  const info = text.slice(skipSpaces(text, behind, end), end)
  if (marker === 96 && info.includes('`')) return undefined
  const [lang = ''] = /^[^ \t]*/.exec(info) ?? []
  const meta = info.slice(lang.length).replace(/^ +/, '')
  return { marker, size, lang: lang || null, meta: meta || null }
}

/** True for the line that closes a fence. */
export function closesFence(text: string, start: number, end: number, { marker, size }: Fence): boolean {
  const at = skipSpaces(text, start, end)
  let behind = at
  while (behind < end && text.charCodeAt(behind) === marker) behind++
  return behind - at >= size && skipSpaces(text, behind, end) === end
}

/** The depth of a heading by the line under it. */
export function underlineDepth(text: string, at: number, end: number): 1 | 2 | undefined {
  const code = text.charCodeAt(at)
  if (code !== 61 && code !== 45) return undefined
  const last = trimEnd(text, at, end)
  for (let to = at; to < last; to++) if (text.charCodeAt(to) !== code) return undefined
  return code === 61 ? 1 : 2
}

const NOTE = /\[\^((?:[^[\]\\\s]|\\.)+)\]:/y

/** True where the text of a note begins. */
export const beginsNote = (text: string, at: number): boolean =>
  text.startsWith('[^', at) && matchNote(text, at) !== null

/** Matches the label of the text of a note. */
export function matchNote(text: string, at: number): RegExpExecArray | null {
  NOTE.lastIndex = at
  return NOTE.exec(text)
}
