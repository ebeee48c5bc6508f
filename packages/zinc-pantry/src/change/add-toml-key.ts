import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { EditedSource, TextEdit } from './edited-source.ts'
import { neighbourOf } from './key-order.ts'
import { writeToml } from './write-record.ts'
import { writeScalar } from './write-scalar.ts'
import { writeValue } from './write-value.ts'

/** A key that comes to a group, the keys that are there, and the order in which they are declared. */
export interface AddedKey {
  readonly keys: readonly string[]
  readonly value: unknown
  readonly order: readonly string[] | undefined
}

/** The edit that puts a key into a table of TOML: a single value before all tables below it, a table behind all else. */
export function addTomlKey(
  { text, document }: Pick<EditedSource, 'text' | 'document'>,
  path: readonly PathSegment[],
  { keys, value, order }: AddedKey,
): TextEdit | undefined {
  const above = path.slice(0, -1)
  const key = String(path.at(-1))
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n'
  if (isTable(value)) {
    if (above.length > 0) return undefined
    const table = writeToml({ value: { [key]: value }, comments: new Map() })
    const gap = text === '' ? '' : text.endsWith('\n') ? lineEnd : lineEnd + lineEnd
    return { span: [text.length, text.length], text: gap + table.replaceAll(/\r?\n/g, lineEnd) }
  }
  const name = writeScalar('a', key, 'toml')
  const written = writeValue(value, undefined, 'toml')
  const owner = valueAt(document.value, above) as Readonly<Record<string, unknown>>
  const single = keys.filter((one) => !isTable(owner[one]))
  const { key: last, isBehind } = neighbourOf(key, single, order)
  if (name === undefined || written === undefined) return undefined
  const pair = `${name} = ${written}`
  if (last === undefined) return above.length > 0 ? undefined : { span: [0, 0], text: pair + lineEnd + lineEnd }
  const [start] = document.locate([...above, last], 'key')
  const [, end] = document.locate([...above, last], 'value')
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  if (text.slice(lineStart, start).trim() !== '')
    return isBehind ? { span: [end, end], text: `, ${pair}` } : { span: [start, start], text: `${pair}, ` }
  const indent = text.slice(lineStart, start)
  if (!isBehind) return { span: [start, start], text: pair + lineEnd + indent }
  const stop = /\r?\n/.exec(text.slice(end))
  const at = stop ? end + stop.index : text.length
  return { span: [at, at], text: lineEnd + indent + pair }
}

/** True for what is written as a table, or as several. */
const isTable = (value: unknown): boolean => isGroup(value) || (Array.isArray(value) && value.some(isGroup))
