import { createDiagnostic, type Diagnostic, type Span } from '../diagnostics/diagnostic.ts'
import { createDocument, type ReadResult, type SourceText } from './document.ts'
import { readToml } from './toml.ts'
import { readYaml } from './yaml.ts'

/** The first line of front matter. */
export const FRONT_OPENING = /^(?:---|\+\+\+)[ \t]*(?:\r\n|\n|\r)/
/** Its last line, by its first. */
export const FRONT_CLOSINGS = {
  '---': /^(?:---|\.\.\.)[ \t]*(?:\r\n|\n|\r|$)/m,
  '+++': /^\+\+\+[ \t]*(?:\r\n|\n|\r|$)/m,
}

/**
 * Reads a Markdown or MDX file: front matter between two lines of `---` (YAML) or `+++` (TOML), the first of
 * which is the first line of the file, then the body. The second line may be `...`, as YAML ends a document. A file without front matter is all body.
 *
 * Diagnostics: `front-matter-unclosed`, `front-matter-misplaced`, and those of `readYaml` and `readToml`.
 *
 * @example
 * ```ts
 * import { readMarkdown } from 'zinc-pantry/read'
 *
 * const { document, body } = readMarkdown({ file: 'a.md', text: '---\ntitle: Fells\n---\n# Fells\n' })
 * console.log(document?.value, body?.text) // { title: 'Fells' } '# Fells\n'
 * ```
 */
export function readMarkdown(source: SourceText): ReadResult {
  const { text } = source
  const opening = FRONT_OPENING.exec(text)
  if (!opening) return withoutFrontMatter(source)
  const fence: Span = [0, 3]
  const start = opening[0].length
  const sign = text.startsWith('+++') ? '+++' : '---'
  const closing = FRONT_CLOSINGS[sign].exec(text.slice(start))
  if (!closing) return { document: undefined, diagnostics: [describeUnclosed(source, start, sign)] }
  const end = start + closing.index
  const bodyStart = end + closing[0].length
  const body = { text: text.slice(bodyStart), startOffset: bodyStart }
  const front = text.slice(start, end)
  const part = { startOffset: start, text: front, opening: fence }
  const { document, diagnostics } = sign === '+++' ? readToml(source, part) : readYaml(source, part)
  const isEmpty = document?.value === null
  const known = isEmpty ? createDocument({}, () => ({ span: fence, opening: fence })) : document
  return { document: known, diagnostics, body }
}

/** A line that was meant to close front matter: a fence with something beside it, or of another length. */
const NEARLY = { '---': /^[ \t]*(?:-{3,}|--|[–—]+)[^\r\n]*/m, '+++': /^[ \t]*(?:\+{3,}|\+\+)[^\r\n]*/m }

/** Front matter that is not closed: at the line that looks like its end, where there is one. */
function describeUnclosed({ file, text }: SourceText, start: number, sign: '---' | '+++'): Diagnostic {
  const found = NEARLY[sign].exec(text.slice(start))
  if (!found) return createDiagnostic('front-matter-unclosed', { file, span: [0, 3] }, { sign })
  const at = start + found.index
  const nearly = found[0].trim()
  return createDiagnostic('front-matter-unclosed', { file, span: [at, at + found[0].length] }, { sign, nearly })
}

/** How the first line of front matter looks, which between two thematic breaks no text does. */
const FIRST_LINES = {
  '---': /^["']?[\w$-]+["']?[ \t]*:(?:\s|$)/,
  '+++': /^(?:["']?[\w-]+["']?(?:\.[\w-]+)*[ \t]*=|\[)/,
}

/** Where front matter starts that stands below empty lines, which no reader would take for it. */
function findMisplaced(text: string): number | undefined {
  const start = /^\s*(?:\r\n|\n|\r)/.exec(text)?.[0].length ?? 0
  const below = text.slice(start)
  const opening = start === 0 ? undefined : FRONT_OPENING.exec(below)?.[0]
  if (opening === undefined) return undefined
  const sign = below.startsWith('+++') ? '+++' : '---'
  const inner = below.slice(opening.length)
  return FIRST_LINES[sign].test(inner) && FRONT_CLOSINGS[sign].test(inner) ? start : undefined
}

function withoutFrontMatter({ file, text }: SourceText): ReadResult {
  const start = findMisplaced(text)
  if (start !== undefined) {
    const diagnostic = createDiagnostic('front-matter-misplaced', { file, span: [start, start + 3] }, {})
    return { document: undefined, diagnostics: [diagnostic] }
  }
  const firstLine = /[^\r\n]*/.exec(text)?.[0].length ?? 0
  const span: Span = [0, firstLine]
  return {
    document: createDocument({}, () => ({ span, opening: span })),
    diagnostics: [],
    body: { text, startOffset: 0 },
    isBare: true,
  }
}
