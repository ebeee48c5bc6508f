import type { Span } from '../diagnostics/diagnostic.ts'
import { isGroup, setOwn, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { listTomlKeys } from '../read/toml-places.ts'
import { canonical } from './edit-value.ts'
import type { EditedSource, TextEdit } from './edited-source.ts'
import { writeScalar } from './write-scalar.ts'

/**
 * The edits of a text that give the keys at some paths another name; undefined where a person has to do it. They are proved: with them
 * the text reads as before but for those keys.
 */
export function renameKeys(
  source: EditedSource,
  paths: readonly (readonly PathSegment[])[],
  name: string,
): readonly TextEdit[] | undefined {
  const { file, text, format, document, readOptions } = source
  const spans = paths.flatMap((path) => spansOf(source, path))
  const edits: TextEdit[] = []
  for (const { span, start, end } of new Map(spans.map((one) => [one.span.join(), one])).values()) {
    const written = text.slice(...span)
    const whole = start === 0 && end === written.length
    const key = whole ? writeScalar(written, name, format.name) : written.slice(0, start) + name + written.slice(end)
    if (key === undefined) return undefined
    edits.push({ span, text: key })
  }
  const after = replaceAll(text, edits)
  const read = format.read({ file, text: after }, readOptions).document
  const wanted = withNames(document.value, paths, name)
  return read && canonical(read.value) === canonical(wanted) ? edits : undefined
}

/** Where a key is written; in the heading of a table it may be a part of a dotted path. */
interface KeySpan {
  readonly span: Span
  /** The part of it that is the key. */
  readonly start: number
  readonly end: number
}

function spansOf({ text, format, document }: EditedSource, path: readonly PathSegment[]): readonly KeySpan[] {
  const whole = (span: Span): KeySpan => ({ span, start: 0, end: span[1] - span[0] })
  if (format.name === 'toml') {
    const wanted = JSON.stringify(path)
    return listTomlKeys(text).flatMap((key) => (JSON.stringify(key.path) === wanted ? [whole(key.span)] : []))
  }
  if (!format.hasCells) return [whole(document.locate(path, 'key'))]
  const names = path.slice(path.findLastIndex((step) => typeof step === 'number') + 1)
  return leavesBelow(valueAt(document.value, path), path).flatMap((leaf) => {
    const span = document.locate(leaf, 'key')
    const heading = text.slice(...span)
    const quote = /^["']/.test(heading) ? 1 : 0
    const steps = heading.slice(quote).split('.')
    const start = quote + steps.slice(0, names.length - 1).join('.').length + (names.length > 1 ? 1 : 0)
    const step = steps[names.length - 1]?.trimEnd().replace(/["']$/, '') ?? ''
    const space = names.length === 1 ? (/^\s*/.exec(step)?.[0].length ?? 0) : 0
    return [{ span, start: start + space, end: start + step.length }]
  })
}

/** The paths of the single values in a value. */
function leavesBelow(value: unknown, path: readonly PathSegment[]): (readonly PathSegment[])[] {
  if (!isGroup(value)) return [path]
  return Object.entries(value).flatMap(([key, inner]) => leavesBelow(inner, [...path, key]))
}

function replaceAll(text: string, edits: readonly TextEdit[]): string {
  let after = text
  for (const { span, text: part } of edits.toSorted((a, b) => b.span[0] - a.span[0]))
    after = after.slice(0, span[0]) + part + after.slice(span[1])
  return after
}

/** A copy of a value with other names for the keys at some paths. */
function withNames(value: unknown, paths: readonly (readonly PathSegment[])[], name: string): unknown {
  const copy = structuredClone(value)
  // The innermost first, so that the paths of the others still lead there.
  for (const path of paths.toSorted((a, b) => b.length - a.length)) {
    const owner = valueAt(copy, path.slice(0, -1))
    const key = String(path.at(-1))
    if (!isGroup(owner) || !Object.hasOwn(owner, key)) continue
    const inner = owner[key]
    delete owner[key]
    setOwn(owner, name, inner)
  }
  return copy
}
