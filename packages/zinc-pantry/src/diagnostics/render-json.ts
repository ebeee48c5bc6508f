import { type Diagnostic, helpOf, messageOf, noteOf, type Place } from './diagnostic.ts'
import { createLineIndexes, type TextSource } from './render-text.ts'

/** A range of a file with 1-based lines and columns beside its 0-based offsets. */
export interface PlaceJson {
  file: string
  line: number
  column: number
  endLine: number
  endColumn: number
  /** `[start, end)` in UTF-16 code units from the start of the text, a byte order mark not counted. */
  span: [number, number]
}

/** A diagnostic as `--format json` prints it. */
export interface DiagnosticJson extends PlaceJson {
  code: string
  severity: string
  message: string
  help?: string
  parameters: Record<string, unknown>
  /** The collection whose content it concerns. */
  collection?: string
  /** The field that it concerns, by its dotted path. */
  field?: string
  related?: (PlaceJson & { note: string })[]
  edit?: PlaceJson & { text: string }
}

/**
 * Diagnostics as plain values, with lines and columns filled in.
 *
 * @example
 * ```ts
 * import { checkSite, createNodeHost, renderJson } from 'zinc-pantry/engine'
 *
 * const report = await checkSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * console.log(JSON.stringify(renderJson(report.diagnostics, report.textOf)))
 * ```
 */
export function renderJson(diagnostics: readonly Diagnostic[], textOf: TextSource): DiagnosticJson[] {
  const placeJson = createPlaceRenderer(textOf)
  return diagnostics.map((diagnostic) => {
    const help = helpOf(diagnostic)
    const { related, edit } = diagnostic
    const { file, line, column, endLine, endColumn, span } = placeJson(diagnostic)
    return {
      file,
      line,
      column,
      endLine,
      endColumn,
      span,
      severity: diagnostic.severity,
      code: diagnostic.code,
      message: messageOf(diagnostic),
      ...(help ? { help } : {}),
      parameters: { ...diagnostic.parameters },
      ...(diagnostic.collection === undefined ? {} : { collection: diagnostic.collection }),
      ...(diagnostic.field === undefined ? {} : { field: diagnostic.field }),
      ...(related ? { related: related.map((place) => ({ ...placeJson(place), note: noteOf(place) })) } : {}),
      ...(edit ? { edit: { ...placeJson(edit), text: edit.text } } : {}),
    }
  })
}

/** Makes what fills in lines and columns. */
export function createPlaceRenderer(textOf: TextSource): (place: Place) => PlaceJson {
  const indexes = createLineIndexes(textOf)
  return ({ file, span }) => {
    const start = indexes(file).at(span[0])
    const end = indexes(file).at(span[1])
    return {
      file,
      line: start.line,
      column: start.column,
      endLine: end.line,
      endColumn: end.column,
      span: [span[0], span[1]],
    }
  }
}
