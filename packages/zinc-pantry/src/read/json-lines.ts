import type { Diagnostic, Span } from '../diagnostics/diagnostic.ts'
import { createDocument, type PathSegment, type PlaceNode, type ReadResult, type SourceText } from './document.ts'
import { readJson } from './json.ts'
import { buildJsonPlaces } from './json-places.ts'
import { shiftPlaces } from './places.ts'

interface Line {
  readonly text: string
  readonly startOffset: number
}

function splitLines(text: string): Line[] {
  return [...text.matchAll(/[^\r\n]+/g)].flatMap(({ 0: line, index }) =>
    line.trim() === '' ? [] : [{ text: line, startOffset: index }],
  )
}

/**
 * Reads JSON Lines: one JSON value a line, empty lines aside. A line with a fault is reported, the others
 * are read all the same.
 *
 * Diagnostics: those of `readJson`.
 *
 * @example
 * ```ts
 * import { readJsonLines } from 'zinc-pantry/read'
 *
 * const { document } = readJsonLines({ file: 'huts.jsonl', text: '{ "beds": 24 }\n{ "beds": 8 }\n' })
 * console.log(document?.value) // [{ beds: 24 }, { beds: 8 }]
 * ```
 */
export function readJsonLines({ file, text }: SourceText): ReadResult {
  const diagnostics: Diagnostic[] = []
  const kept: Line[] = []
  const values: unknown[] = []
  for (const line of splitLines(text)) {
    const read = readJson({ file, text: line.text })
    for (const diagnostic of read.diagnostics) diagnostics.push(shiftDiagnostic(diagnostic, line.startOffset))
    if (!read.document) continue
    values.push(read.document.value)
    kept.push(line)
  }
  const buildPlaces = (): PlaceNode => ({
    span: [0, text.length],
    opening: [0, Math.min(1, text.length)],
    children: new Map<PathSegment, PlaceNode>(
      kept.map((line, position) => [position, shiftPlaces(buildJsonPlaces(line.text), line.startOffset)]),
    ),
  })
  return { document: createDocument(values, buildPlaces), diagnostics, partial: kept.length < splitLines(text).length }
}

function shiftDiagnostic(diagnostic: Diagnostic, offset: number): Diagnostic {
  const shift = ([start, end]: Span): Span => [start + offset, end + offset]
  const related = diagnostic.related?.map((place) => ({ ...place, span: shift(place.span) }))
  const edit = diagnostic.edit && { ...diagnostic.edit, span: shift(diagnostic.edit.span) }
  return { ...diagnostic, span: shift(diagnostic.span), ...(related ? { related } : {}), ...(edit ? { edit } : {}) }
}
