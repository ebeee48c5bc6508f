import { appendAll } from '../diagnostics/append-all.ts'
import { isGroup, setOwn, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import { canonical } from './edit-value.ts'
import { type EditedSource, type TextEdit, withEdits } from './edited-source.ts'
import { flattenRecord } from './flatten-record.ts'
import { lineEndAfter } from './line-places.ts'
import { withoutNull } from './without-null.ts'
import { cellStyleOf, cellsOf, headingsOf, writeCell } from './write-cell.ts'
import { type NewRecord, writeOnLine, writeToml, writeYaml } from './write-record.ts'
import { writeScalar } from './write-scalar.ts'

/** A record that comes to others, and its key where those have keys. */
export interface AddedRecord extends NewRecord {
  readonly key?: string | undefined
}

/**
 * The edit of a text that puts records behind those at a path, in their layout; undefined where a person has to do it. It is
 * proved: with it the text reads as before, with those records.
 */
export function appendRecords(
  source: EditedSource,
  path: readonly PathSegment[],
  records: readonly AddedRecord[],
): TextEdit | undefined {
  const { format, document } = source
  const edit = proposeRecords(source, path, records)
  const after = edit && withEdits(source, [edit])?.document.value
  if (after === undefined) return undefined
  if (format.hasCells) return countOf(after) === countOf(document.value) + records.length ? edit : undefined
  const wanted = withRecords(document.value, path, records)
  return canonical(withoutNull(after)) === canonical(withoutNull(wanted)) ? edit : undefined
}

const countOf = (value: unknown): number => (Array.isArray(value) ? value.length : 0)

function proposeRecords(
  source: EditedSource,
  path: readonly PathSegment[],
  records: readonly AddedRecord[],
): TextEdit | undefined {
  const { text, document, format } = source
  if (format.hasCells) return appendRows(source, records)
  const holder = valueAt(document.value, path)
  const lineEnd = /\r\n/.test(text) ? '\r\n' : '\n'
  const withEnds = (edit: TextEdit): TextEdit =>
    lineEnd === '\n' ? edit : { ...edit, text: edit.text.replaceAll(/\r?\n/g, lineEnd) }
  if (format.name === 'jsonl') {
    const lines = records.map((record) => writeOnLine(record, format.name))
    return lines.includes(undefined) ? undefined : withEnds(atEnd(text, lines.map((line) => `${line}\n`).join('')))
  }
  if (format.name === 'toml') {
    const tables = records.map((record) => {
      const name = record.key ?? String(path.at(-1) ?? '')
      const head =
        record.key === undefined ? `[[${name}]]` : `[${[...path.map(String), writeScalar('', name, 'toml')].join('.')}]`
      return `\n${head}\n${writeToml(record, name)}`
    })
    return withEnds(atEnd(text, tables.join('')))
  }
  if (format.name === 'json' || format.name === 'jsonc') {
    const edit = appendJson(source, path, { records, holder })
    return edit && withEnds(edit)
  }
  const edit = appendYaml(source, path, { records, holder })
  return edit && withEnds(edit)
}

/** At the end of a text, on a line of its own. */
function atEnd(text: string, added: string): TextEdit {
  const isOpen = text !== '' && !text.endsWith('\n')
  const plain = text.trim() === '' ? added.replace(/^\n/, '') : added
  return { span: [text.length, text.length], text: (isOpen ? '\n' : '') + plain }
}

interface Appending {
  readonly records: readonly AddedRecord[]
  /** What holds the records that are there. */
  readonly holder: unknown
}

function appendJson(
  { text, document, format }: EditedSource,
  path: readonly PathSegment[],
  { records, holder }: Appending,
): TextEdit | undefined {
  const isList = Array.isArray(holder)
  const keys = isList ? [...holder.keys()] : isGroup(holder) ? Object.keys(holder) : undefined
  if (!keys) return undefined
  const last = keys.at(-1)
  const [start, end] = document.locate(last === undefined ? path : [...path, last], 'value')
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  const indent = /^[ \t]*/.exec(text.slice(lineStart))?.[0] ?? ''
  const isOnLine = last === undefined || !text.slice(start, end).includes('\n')
  const step = /^[ \t]+/m.exec(text)?.[0] ?? '  '
  const written = records.map((record) => {
    const value = isOnLine
      ? writeOnLine(record, format.name)
      : JSON.stringify(record.value, null, step).replaceAll('\n', `\n${indent}`)
    return isList ? value : `${JSON.stringify(record.key ?? '')}: ${value}`
  })
  if (last === undefined) {
    const [open, close] = isList ? '[]' : '{}'
    return {
      span: [start, end],
      text: `${open}\n${written.map((one) => indent + step + one).join(',\n')}\n${indent}${close}`,
    }
  }
  const added = written.map((one) => `\n${indent}${one}`).join(',')
  // What stands behind the last one, in its line, stays there.
  const [, rest = '', comma = ''] = /^((,?)[ \t]*(?:\/\/.*)?)(?=\r?\n)/.exec(text.slice(end)) ?? []
  return { span: [end, end + rest.length], text: (comma ? rest : `,${rest}`) + added + comma }
}

function appendYaml(
  { text, document, format }: EditedSource,
  path: readonly PathSegment[],
  { records, holder }: Appending,
): TextEdit | undefined {
  const asBlock = (record: AddedRecord, isList: boolean, step: string): string => {
    const inner = writeYaml(record, { indent: step })
    if (isList) return `- ${inner.replaceAll(/\n(?=.)/g, '\n  ')}`
    const key = writeScalar('', record.key ?? '', 'yaml')
    return `${key}:\n${inner.replaceAll(/^(?=.)/gm, step)}`
  }
  if (holder === null && path.length === 0)
    return atEnd(text, records.map((record) => asBlock(record, record.key === undefined, '  ')).join(''))
  const isList = Array.isArray(holder)
  const keys = isList ? [...holder.keys()] : isGroup(holder) ? Object.keys(holder) : []
  const last = keys.at(-1)
  if (last === undefined) return undefined
  const [keyStart] = document.locate([...path, last], isList ? 'value' : 'key')
  const [start, end] = document.locate([...path, last], 'value')
  const dash = isList ? text.lastIndexOf('-', keyStart) : keyStart
  const lineStart = text.lastIndexOf('\n', dash) + 1
  const indent = text.slice(lineStart, dash)
  if (!/^ *$/.test(indent)) return undefined
  const isOnLine = text[start] === '{'
  const step = /\n( +)\S/.exec(text)?.[1] ?? '  '
  const isApart = keys.length > 1 && /\n[ \t]*\r?\n[ \t]*$/.test(text.slice(0, dash))
  const blocks = records.map((record) => {
    const line = isOnLine ? writeOnLine(record, format.name) : undefined
    const block =
      line === undefined
        ? asBlock(record, isList, isList ? '  ' : step.slice(0, Math.max(2, step.length - indent.length) || 2))
        : `${isList ? '- ' : `${writeScalar('', record.key ?? '', 'yaml')}: `}${line}\n`
    return (isApart ? '\n' : '') + block.replaceAll(/^(?=.)/gm, indent)
  })
  const at = lineEndAfter(text, text[end - 1] === '\n' ? end - 1 : end)
  const isOpen = at === text.length
  return { span: [at, at], text: `\n${blocks.join('')}`.replace(isOpen ? /$^/ : /\n$/, '') }
}

/** Rows below those of a table; its headings say what stands where. */
function appendRows(source: EditedSource, records: readonly AddedRecord[]): TextEdit | undefined {
  const { text } = source
  const style = cellStyleOf(source)
  const names = headingsOf(source, cellsOf(source))
  const rows: string[] = []
  for (const record of records) {
    const cells = flattenRecord(record.value)
    const isLost = ([name, value]: readonly [string, unknown]): boolean => value !== null && !names.includes(name)
    const written = names.map((name) => writeCell(cells.get(name), '', style))
    if ([...cells].some(isLost) || written.includes(undefined)) return undefined
    rows.push(written.join(style.delimiter))
  }
  const lineEnd = text.includes('\r\n') ? '\r\n' : '\n'
  const isOpen = !text.endsWith('\n')
  return { span: [text.length, text.length], text: (isOpen ? lineEnd : '') + rows.map((row) => row + lineEnd).join('') }
}

/** A copy of a value with more records at a path. */
function withRecords(value: unknown, path: readonly PathSegment[], records: readonly AddedRecord[]): unknown {
  const copy = structuredClone(value)
  const holder = valueAt(copy, path)
  if (holder === null || holder === undefined)
    return records[0]?.key === undefined
      ? records.map((record) => record.value)
      : Object.fromEntries(records.map((record) => [record.key ?? '', record.value]))
  if (Array.isArray(holder))
    appendAll(
      holder,
      records.map((record) => record.value),
    )
  else if (isGroup(holder)) for (const record of records) setOwn(holder, record.key ?? '', record.value)
  return copy
}
