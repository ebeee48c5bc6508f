import { appendAll } from '../diagnostics/append-all.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { TextEdit } from './edited-source.ts'

/** An edit, and why it is made. */
export interface ReasonedEdit extends TextEdit {
  readonly reason: string
}

/** A part of a text that is edited: from the original, or put in. */
type Piece = { readonly span: Span } | { readonly text: string; readonly reasons: readonly string[] }

/**
 * A text that is edited again and again, as a piece table: parts of the original and what was put in between them, so that all
 * edits together can be told as edits of the original.
 */
export interface PieceTable {
  /** Makes edits of the text as it is now, none of which overlap. */
  apply(edits: readonly ReasonedEdit[]): void
  /** All that was made, as edits of the original, in order. */
  edits(): readonly ReasonedEdit[]
}

/** Makes a piece table of a text. */
export function createPieceTable(original: string): PieceTable {
  let pieces: readonly Piece[] = [{ span: [0, original.length] }]
  return {
    apply(edits) {
      // From the end, so that what is in front stays where it is.
      for (const edit of edits.toSorted((a, b) => b.span[0] - a.span[0] || b.span[1] - a.span[1]))
        pieces = replacePieces(pieces, edit)
    },
    edits() {
      const edits: ReasonedEdit[] = []
      let at = 0
      let put: { text: string; reasons: readonly string[] } = { text: '', reasons: [] }
      for (const piece of [...pieces, { span: [original.length, original.length] as const }]) {
        if (!('span' in piece)) {
          put = { text: put.text + piece.text, reasons: [...put.reasons, ...piece.reasons] }
          continue
        }
        const span = [at, piece.span[0]] as const
        if (original.slice(...span) !== put.text)
          edits.push({ span, text: put.text, reason: [...new Set(put.reasons)].join(', ') })
        at = piece.span[1]
        put = { text: '', reasons: [] }
      }
      return edits
    },
  }
}

/** Pieces with others in the place of a span of the text that they make. */
function replacePieces(pieces: readonly Piece[], { span: [start, end], text, reason }: ReasonedEdit): readonly Piece[] {
  const [before, after]: [Piece[], Piece[]] = [[], []]
  const reasons: string[] = []
  let at = 0
  for (const piece of pieces) {
    const length = lengthOf(piece)
    const [from, to] = [Math.max(0, start - at), Math.max(0, end - at)]
    if (from > 0) before.push(cutPiece(piece, 0, Math.min(from, length)))
    if (to < length) after.push(cutPiece(piece, Math.min(to, length), length))
    if (from < length && to > 0 && 'reasons' in piece) appendAll(reasons, piece.reasons)
    at += length
  }
  return [...before, { text, reasons: [...reasons, reason] }, ...after]
}

const lengthOf = (piece: Piece): number => ('span' in piece ? piece.span[1] - piece.span[0] : piece.text.length)

const cutPiece = (piece: Piece, from: number, to: number): Piece =>
  'span' in piece
    ? { span: [piece.span[0] + from, piece.span[0] + to] }
    : { ...piece, text: piece.text.slice(from, to) }
