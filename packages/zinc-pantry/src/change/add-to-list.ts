import type { Span } from '../diagnostics/diagnostic.ts'
import type { PathSegment, ReadDocument } from '../read/document.ts'
import type { FormatName } from '../values/format-names.ts'
import { writeScalar } from './write-scalar.ts'

/** A list of texts in a record, and what it is to hold besides. */
export interface ListAddition {
  readonly text: string
  readonly document: ReadDocument
  readonly format: FormatName
  readonly recordPath: readonly PathSegment[]
  /** The key of the list, as it is written. */
  readonly key: string
  readonly item: string
}

/** An edit that adds a text to a list, or the list to its record; undefined where a person has to do it. */
export function addToList(addition: ListAddition): { readonly span: Span; readonly text: string } | undefined {
  const { text, document, format, recordPath, key } = addition
  const record = valueAt(document.value, recordPath)
  if (format === 'csv' || format === 'tsv' || typeof record !== 'object' || record === null) return undefined
  const isJson = format.startsWith('json')
  const item = writeScalar(isJson || format === 'toml' ? '""' : 'a', addition.item, format)
  if (item === undefined) return undefined
  const own = (record as Readonly<Record<string, unknown>>)[key]
  const [start, end] = document.locate([...recordPath, key], 'value')
  const written = text.slice(start, end)
  if (Array.isArray(own) && written.startsWith('['))
    return { span: [end - 1, end - 1], text: own.length === 0 ? item : `, ${item}` }
  if (Array.isArray(own) && written.startsWith('-'))
    return { span: [end, end], text: `\n${indentOf(text, start)}- ${item}` }
  if (typeof own === 'string') return { span: [start, end], text: `[${written}, ${item}]` }
  if (own !== undefined && own !== null) return undefined
  return addKey(addition, Object.keys(record), `[${item}]`)
}

/** An edit that puts a key behind the last of a record. */
function addKey(
  { text, document, format, recordPath, key }: ListAddition,
  keys: readonly string[],
  value: string,
): { readonly span: Span; readonly text: string } | undefined {
  const last = keys.at(-1)
  if (last === undefined || format === 'toml') return undefined
  const [start] = document.locate([...recordPath, last], 'key')
  const [, end] = document.locate([...recordPath, last], 'value')
  const isAlone = indentOf(text, start) !== undefined
  if (format.startsWith('json')) {
    const between = isAlone ? `,\n${indentOf(text, start)}` : ', '
    return { span: [end, end], text: `${between}${JSON.stringify(key)}: ${value}` }
  }
  const name = writeScalar('a', key, format) ?? key
  const [recordStart] = document.locate([...recordPath], 'value')
  if (text[recordStart] === '{' || !isAlone) return { span: [end, end], text: `, ${name}: ${value}` }
  const lineEnd = /[^\r\n]*/.exec(text.slice(end))?.[0].length ?? 0
  return { span: [end + lineEnd, end + lineEnd], text: `\n${indentOf(text, start)}${name}: ${value}` }
}

/** The spaces in front of a place, where nothing else is. */
function indentOf(text: string, offset: number): string | undefined {
  const before = text.slice(text.lastIndexOf('\n', offset - 1) + 1, offset)
  // The first key of an item stands behind its sign.
  return /^[\s-]*$/.test(before) ? before.replaceAll('-', ' ') : undefined
}

function valueAt(value: unknown, path: readonly PathSegment[]): unknown {
  let at = value
  for (const step of path) at = (at as Readonly<Record<PathSegment, unknown>> | null | undefined)?.[step]
  return at
}
