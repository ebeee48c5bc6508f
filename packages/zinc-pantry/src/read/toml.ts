import { parse, TomlDate, TomlError } from 'smol-toml'
import { createDiagnostic, type Diagnostic, type Span } from '../diagnostics/diagnostic.ts'
import { createLineIndex } from '../diagnostics/line-index.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import { createDocument, MAX_DEPTH, type ReadResult, type SourceText } from './document.ts'
import { shiftPlaces } from './places.ts'
import { buildTomlPlaces } from './toml-places.ts'
import type { YamlPart } from './yaml.ts'

/**
 * Reads TOML 1.0. Dates and times become text in the forms that fields take; a date and time without a zone
 * stays without one.
 *
 * Diagnostics: `toml-syntax`, `toml-duplicate-key`, `toml-too-deep`.
 *
 * @example
 * ```ts
 * import { readToml } from 'zinc-pantry/read'
 *
 * const { document } = readToml({ file: 'hut.toml', text: 'name = "Gable Hut"\nopened = 1937-07-04\n' })
 * console.log(document?.value) // { name: 'Gable Hut', opened: '1937-07-04' }
 * ```
 */
export function readToml(source: SourceText, part: YamlPart = { startOffset: 0, text: source.text }): ReadResult {
  try {
    const value = plain(parse(part.text, { maxDepth: MAX_DEPTH, integersAsBigInt: 'asNeeded' }))
    const buildPlaces = () => {
      const root = shiftPlaces(buildTomlPlaces(part.text), part.startOffset)
      return part.opening ? { ...root, opening: part.opening } : root
    }
    return { document: createDocument(value, buildPlaces), diagnostics: [] }
  } catch (error) {
    if (!(error instanceof TomlError) && !(error instanceof RangeError)) throw error
    return { document: undefined, diagnostics: [describeFault(error, source.file, part)] }
  }
}

/** The parser's objects have no prototype, and its dates are objects; ours are plain. */
function plain(value: unknown): unknown {
  if (value instanceof TomlDate) return dateText(value)
  // Too large to be exact; the check of the field says so.
  if (typeof value === 'bigint') return Number(value)
  if (Array.isArray(value)) return value.map(plain)
  if (typeof value !== 'object' || value === null) return value
  const group: Record<string, unknown> = {}
  for (const [key, inner] of Object.entries(value)) setOwn(group, key, plain(inner))
  return group
}

function dateText(value: TomlDate): string {
  const text = value.toISOString()
  return value.isDate() ? text : text.replace(/\.000(?=$|[-+Zz])/, '')
}

function describeFault(error: TomlError | RangeError, file: string, { text, startOffset }: YamlPart): Diagnostic {
  const reason = (error.message.split('\n')[0] ?? '').replace(/^Invalid TOML document: /, '')
  const at = error instanceof TomlError ? createLineIndex(text).startOf(error.line) + error.column - 1 : 0
  const start = Math.min(at, Math.max(0, text.length - 1))
  const length = /^[\w-]+/.exec(text.slice(start))?.[0].length ?? 1
  const place = { file, span: [start + startOffset, start + length + startOffset] as Span }
  if (/nest|depth|call stack/i.test(reason)) return createDiagnostic('toml-too-deep', place, { limit: MAX_DEPTH })
  if (/redefine|already defined|duplicate/i.test(reason))
    return createDiagnostic('toml-duplicate-key', place, { key: text.slice(start, start + length) })
  return createDiagnostic('toml-syntax', place, { reason: reason.charAt(0).toUpperCase() + reason.slice(1) })
}
