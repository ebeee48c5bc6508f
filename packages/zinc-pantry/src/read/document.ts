import type { Diagnostic, Span } from '../diagnostics/diagnostic.ts'

/** One step into a value: a key of a group or a 0-based position in a list. */
export type PathSegment = string | number

/** The text of one file. A byte order mark is already gone. */
export interface SourceText {
  /** Relative to the site's root, with forward slashes. */
  readonly file: string
  readonly text: string
}

/**
 * Which part of `key: value` a place means. `absent` is the place of something that should be there: in a table its empty
 * cell, elsewhere the opening of the nearest group.
 */
export type PlacePart = 'key' | 'value' | 'absent'

/** A value read from text, able to name the place of every part of itself. */
export interface ReadDocument {
  /** Plain data: text, numbers, booleans, null, arrays and objects. */
  readonly value: unknown
  /**
   * The place of a part of the value. Places are worked out when the first is asked for, since most
   * files have no problem. A path that leads nowhere gives the opening of the nearest group.
   */
  locate(path: readonly PathSegment[], part: PlacePart): Span
  /** True where numbers are written with zeros in front, which some readers take for another base. */
  readonly hasLeadingZeros?: boolean
}

/** The result of reading one text. Without a document there is at least one error. */
export interface ReadResult {
  readonly document: ReadDocument | undefined
  readonly diagnostics: readonly Diagnostic[]
  /** The text below the front matter, and the offset at which it starts. */
  readonly body?: { readonly text: string; readonly startOffset: number }
  /** True where a part of the text was left out because of an error in it. */
  readonly partial?: boolean
  /** True for a text below which front matter could stand, and none does. */
  readonly isBare?: boolean
  /** Reads another text of the same file that has most in common with this one; undefined where it has not, or has a problem. */
  readonly reread?: (source: SourceText) => ReadResult | undefined
}

/** The places of one value and of all that is in it. */
export interface PlaceNode {
  readonly span: Span
  /** The key that holds the value. */
  key?: Span
  /** The heading that names the value, in a table. What is wrong with a name is wrong with it, once for all rows. */
  readonly heading?: Span
  /** The place of the whole of a group: its bracket or fence. */
  readonly opening?: Span
  children?: Map<PathSegment, PlaceNode>
}

/** A place whose children are worked out when they are first asked for: of large files a few records have problems. */
export class LazyPlace implements PlaceNode {
  readonly span: Span
  readonly opening: Span
  key?: Span
  readonly #build: () => Map<PathSegment, PlaceNode>
  #children: Map<PathSegment, PlaceNode> | undefined

  constructor(span: Span, opening: Span, build: () => Map<PathSegment, PlaceNode>) {
    this.span = span
    this.opening = opening
    this.#build = build
  }

  get children(): Map<PathSegment, PlaceNode> {
    this.#children ??= this.#build()
    return this.#children
  }
}

const openingOf = (node: PlaceNode): Span => {
  if (node.key) return node.key
  if (node.opening) return node.opening
  const first = node.children?.values().next().value
  return first ? openingOf(first) : node.span
}

/** Follows a path through a tree of places, as {@link ReadDocument.locate} promises. */
function locateIn(root: PlaceNode, path: readonly PathSegment[], part: PlacePart): Span {
  let node = root
  for (const step of path) {
    const child = node.children?.get(step)
    // A single value that was taken apart, such as a cell with a list, stands for its parts.
    if (!child) return node.children ? openingOf(node) : node.span
    node = child
  }
  if (part === 'value') return node.span
  if (!node.heading) return openingOf(node)
  return part === 'key' ? node.heading : node.span
}

/** A document whose places are worked out once, on demand. */
export function createDocument(value: unknown, buildPlaces: () => PlaceNode, hasLeadingZeros = false): ReadDocument {
  let places: PlaceNode | undefined
  return {
    value,
    hasLeadingZeros,
    locate(path, part) {
      places ??= buildPlaces()
      return locateIn(places, path, part)
    },
  }
}

/** Deepest nesting that any format may have. */
export const MAX_DEPTH = 100
