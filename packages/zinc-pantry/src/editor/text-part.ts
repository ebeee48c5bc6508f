import { FRONT_CLOSINGS, FRONT_OPENING } from '../read/front-matter.ts'
import type { FormatName } from '../values/format-names.ts'

/** A part of a document in one format: the data of a file, its front matter, or its body. */
export interface TextPart {
  readonly format: FormatName
  /** True for the text below front matter. */
  readonly isBody: boolean
  readonly text: string
  /** Where it starts in the document. */
  readonly start: number
}

/**
 * The part of a document that an offset is in. Front matter that is not closed yet ends at the first empty line: somebody is writing
 * it.
 */
export function partAt(text: string, offset: number, format: FormatName): TextPart {
  if (format !== 'markdown' && format !== 'mdx') return { format, isBody: false, text, start: 0 }
  const opening = FRONT_OPENING.exec(text)
  if (!opening) return { format, isBody: true, text, start: 0 }
  const start = opening[0].length
  const sign = text.startsWith('+++') ? '+++' : '---'
  const closing = FRONT_CLOSINGS[sign].exec(text.slice(start))
  const end = closing ? start + closing.index : start + (/^[ \t]*$/m.exec(text.slice(start))?.index ?? text.length)
  const bodyStart = closing ? end + closing[0].length : end
  if (offset <= end && offset >= start)
    return { format: sign === '+++' ? 'toml' : 'yaml', isBody: false, text: text.slice(start, end), start }
  return { format, isBody: true, text: text.slice(bodyStart), start: bodyStart }
}
