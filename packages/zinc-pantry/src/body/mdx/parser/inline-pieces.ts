import type { Nodes, PhrasingContent, Text } from 'mdast'
import { ElementTree } from './element-tree.ts'
import type { Tag } from './tags.ts'
import { trimEnd, type View } from './view.ts'

interface At {
  readonly start: number
  readonly end: number
}

/** A piece of a text: what it stands for is known, but not yet what belongs into what. */
export type Piece =
  | (At & { readonly kind: 'text'; readonly value: string; readonly isRaw: boolean })
  | (At & { readonly kind: 'line' })
  | (At & { readonly kind: 'node'; readonly node: PhrasingContent })
  | (At & { readonly kind: 'tag'; readonly tag: Tag })
  | Label
  | Run

/** A bracket that may begin a link or a picture. */
export interface Label extends At {
  readonly kind: 'label'
  readonly isImage: boolean
  /** True where its closing bracket made nothing of it. */
  isBalanced: boolean
  /** True for one around a link, since links hold no links. */
  isInactive: boolean
}

/** Signs of emphasis or of struck text in a row. */
export interface Run {
  readonly kind: 'run'
  readonly marker: number
  readonly opens: boolean
  readonly closes: boolean
  start: number
  end: number
}

export const TILDE = 126

/** What is known of a text while its pieces are put together. */
export interface Scope {
  readonly view: View
  /** Runs of tildes that could have meant something and did not. */
  readonly leftTildes: Run[]
  hasEmphasis: boolean
}

/** Finds what is emphasised and struck, by the rules of CommonMark for runs of signs, and makes nodes of pieces. */
export function resolvePieces(pieces: readonly Piece[], scope: Scope): PhrasingContent[] {
  if (!pieces.some(({ kind }) => kind === 'run')) return toNodes(pieces, scope)
  return toNodes(resolveStruck(resolveEmphasis([...pieces], scope), scope), scope)
}

const sizeOf = ({ start, end }: At): number => end - start

function resolveEmphasis(pieces: Piece[], scope: Scope): Piece[] {
  for (let at = 0; at < pieces.length; at++) {
    const closer = pieces[at] as Piece
    if (closer.kind !== 'run' || !closer.closes || closer.marker === TILDE) continue
    const found = findOpener(pieces, at, closer)
    if (found === -1) continue
    const opener = pieces[found] as Run
    scope.hasEmphasis = true
    const used = sizeOf(opener) > 1 && sizeOf(closer) > 1 ? 2 : 1
    const [start, end] = [opener.end - used, closer.start + used]
    const node: PhrasingContent = {
      type: used > 1 ? 'strong' : 'emphasis',
      children: resolvePieces(withoutEmphasis(pieces.slice(found + 1, at)), scope),
      position: scope.view.position(start, end),
    }
    opener.end = start
    closer.start = end
    const group: Piece[] = [{ kind: 'node', node, start, end }]
    if (sizeOf(opener) > 0) group.unshift(opener)
    if (sizeOf(closer) > 0) group.push(closer)
    // biome-ignore lint/plugin: three pieces at most
    pieces.splice(found, at - found + 1, ...group)
    // What is left of the closer may close once more.
    at = found + (sizeOf(opener) > 0 ? 1 : 0)
  }
  return pieces
}

/** Of what stands between two runs that belong together, no run is one any more. */
const withoutEmphasis = (pieces: readonly Piece[]): Piece[] =>
  pieces.map((piece) =>
    piece.kind === 'run' && piece.marker !== TILDE ? { ...piece, opens: false, closes: false } : piece,
  )

function findOpener(pieces: readonly Piece[], at: number, closer: Run): number {
  for (let open = at - 1; open >= 0; open--) {
    const opener = pieces[open] as Piece
    if (opener.kind !== 'run' || !opener.opens || opener.marker !== closer.marker) continue
    const isOdd = sizeOf(closer) % 3 !== 0 && (sizeOf(opener) + sizeOf(closer)) % 3 === 0
    if ((opener.closes || closer.opens) && isOdd) continue
    return open
  }
  return -1
}

function resolveStruck(pieces: Piece[], scope: Scope): Piece[] {
  for (let at = 0; at < pieces.length; at++) {
    const closer = pieces[at] as Piece
    if (closer.kind !== 'run' || closer.marker !== TILDE || !closer.closes) continue
    for (let open = at - 1; open >= 0; open--) {
      const opener = pieces[open] as Piece
      if (opener.kind !== 'run' || opener.marker !== TILDE || !opener.opens) continue
      if (sizeOf(opener) !== sizeOf(closer)) continue
      const { start } = opener
      const { end } = closer
      const children = resolvePieces(pieces.slice(open + 1, at), scope)
      const node: PhrasingContent = { type: 'delete', children, position: scope.view.position(start, end) }
      pieces.splice(open, at - open + 1, { kind: 'node', node, start, end })
      at = open
      break
    }
  }
  return pieces
}

/** Makes nodes of pieces in which no run means anything any more: text is joined, tags become elements. */
function toNodes(pieces: readonly Piece[], scope: Scope): PhrasingContent[] {
  const { view } = scope
  const tree = new ElementTree<PhrasingContent>(view, 'mdxJsxTextElement')
  let last: Text | undefined
  const addText = (value: string, start: number, end: number): void => {
    if (last?.position) {
      last.value += value
      last.position.end = view.endPoint(end)
    } else {
      last = { type: 'text', value, position: view.position(start, end) }
      tree.children.push(last)
    }
  }
  for (const [at, piece] of pieces.entries()) {
    if (piece.kind === 'text') {
      const [value, end] =
        pieces[at + 1]?.kind === 'line' && piece.isRaw ? withoutSuffix(piece) : [piece.value, piece.end]
      if (value !== '') addText(value, piece.start, end)
      continue
    }
    if (piece.kind === 'run' || piece.kind === 'label') {
      if (piece.kind === 'run' && piece.marker === TILDE && (piece.opens || piece.closes)) scope.leftTildes.push(piece)
      addText(view.text.slice(piece.start, piece.end), piece.start, piece.end)
      continue
    }
    if (piece.kind === 'line') {
      const size = spacesBefore(pieces[at - 1])
      if (size < 2) addText(view.slice(piece.start, piece.end), piece.start, piece.end)
      else {
        last = undefined
        tree.children.push({ type: 'break', position: view.position(piece.start - size, piece.end) })
      }
      continue
    }
    last = undefined
    if (piece.kind === 'node') tree.children.push(piece.node)
    else tree.place(piece.tag)
  }
  return tree.finish()
}

/** A text in front of the end of a line, without the spaces at its end. */
function withoutSuffix(piece: Piece & { kind: 'text' }): [string, number] {
  const spaces = spacesAtEnd(piece.value)
  return [piece.value.slice(0, piece.value.length - spaces), piece.end - spaces]
}

const spacesBefore = (piece: Piece | undefined): number =>
  piece?.kind === 'text' && piece.isRaw ? spacesAtEnd(piece.value) : 0

const spacesAtEnd = (text: string): number => text.length - trimEnd(text, 0, text.length)

/** The text of nodes, as an alternative for a picture has it. */
export const plainText = (nodes: readonly Nodes[]): string =>
  nodes
    .map((node) => {
      if ('value' in node) return node.value
      if ('alt' in node) return node.alt ?? ''
      return 'children' in node ? plainText(node.children) : ''
    })
    .join('')
