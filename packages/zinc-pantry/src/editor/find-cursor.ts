import { getLocation, parse } from 'jsonc-parser'
import { isGroup } from '../diagnostics/own-key.ts'
import type { CsvOptions } from '../read/csv.ts'
import { readCsv } from '../read/csv.ts'
import type { PathSegment } from '../read/document.ts'
import { readToml } from '../read/toml.ts'
import { readYaml } from '../read/yaml.ts'
import { findToken, type Token, tokenOf } from './find-token.ts'
import { lineStartOf, runStartOf } from './line-start.ts'
import type { TextPart } from './text-part.ts'

/** Where a cursor is in the data of a document. */
export interface Cursor {
  readonly token: Token
  /** The document with {@link MARK} in the place of the token, or what of it can be read. */
  readonly value: unknown
  /** The path of the value; of a key that of the group which has it. */
  readonly path: readonly PathSegment[]
  /** `either` where a key can stand as well as a value. */
  readonly part: 'key' | 'value'
}

/** Stands for what is being written: no text has it. */
export const MARK = '\uE0A7'

/** Finds where a cursor is in data, whether they can be read at the moment or not. Offsets are in the part. */
export function findCursor(part: TextPart, offset: number, options: CsvOptions): Cursor | undefined {
  switch (part.format) {
    case 'yaml':
      return findInYaml(part.text, offset)
    case 'toml':
      return findInLines(part.text, offset, 'toml')
    case 'json':
    case 'jsonc':
      return findInJson(part.text, offset)
    case 'jsonl':
      return findInJsonLines(part.text, offset)
    case 'csv':
    case 'tsv':
      return findInTable(part.text, offset, { ...(part.format === 'tsv' ? { delimiter: '\t' } : {}), ...options })
    default:
      return undefined
  }
}

/** In a text that is longer only the record is read that a cursor is in: of thousands all would take a second. */
const LONG_TEXT = 2 ** 14

/** Finds a cursor in YAML; what an alias stands for may be anywhere. */
function findInYaml(text: string, offset: number): Cursor | undefined {
  const found = text.length < LONG_TEXT ? undefined : findInRecord(text, offset)
  return found || (text.length >= LONG_TEXT && !/(?:^|[\s[,])\*\S/.test(text))
    ? found
    : findInLines(text, offset, 'yaml')
}

/** Finds a cursor in a long text of YAML by what it stands in at the outermost level. */
function findInRecord(text: string, offset: number): Cursor | undefined {
  const starts = [...text.matchAll(/^(?=[^\s#])/gm)].map(({ index }) => index)
  const at = starts.findLastIndex((start) => start <= offset)
  const start = starts[at]
  if (start === undefined) return undefined
  const found = findInLines(text.slice(start, starts[at + 1] ?? text.length), offset - start, 'yaml')
  if (!found) return undefined
  const { token, value, path } = found
  const [from, to] = token.span
  const own = { ...found, token: { ...token, span: [from + start, to + start] as const } }
  if (!Array.isArray(value)) return own
  // It is the only one of its list that was read, and stands behind others.
  const before = starts.slice(0, at).filter((one) => /^-(?:\s|$)/.test(text.slice(one, one + 2))).length
  const values: unknown[] = []
  values[before] = value[0]
  return { ...own, value: values, path: [before, ...path.slice(1)] }
}

/** Reads data with a mark in the place of a token, mending what cannot be read around it. */
function findInLines(text: string, offset: number, format: 'yaml' | 'toml'): Cursor | undefined {
  const token = findToken(text, offset, format)
  const [start, end] = token.span
  const marks = token.isKey
    ? [MARKED[format].key]
    : [MARKED[format].value, ...(token.isInFlow ? [] : MARKED[format].whole)]
  const put = (mark: string, source = text): string => source.slice(0, start) + mark + source.slice(end)
  for (const mark of marks) {
    const found = placeMark(readLeniently(put(mark), start, format))
    if (found) return { token, ...found }
  }
  if (token.isInFlow) {
    // The brackets are not closed yet.
    const lineEnd = /[\r\n]|$/.exec(text.slice(end))?.index ?? 0
    const closed = text.slice(0, start) + marks[0] + closingOf(text, start) + text.slice(end + lineEnd)
    const found = placeMark(readLeniently(closed, start, format))
    if (found) return { token, ...found }
  }
  // What is around it cannot be read at all: what it stands in is known by the indentation of the lines above.
  if (format === 'toml') return undefined
  for (const mark of marks) {
    const found = placeMark(read(linesAround(put(mark), start), format))
    if (found) return { token, ...found }
  }
  return undefined
}

/** The brackets that would close those which are open in the line of a place. */
function closingOf(text: string, at: number): string {
  const closing: string[] = []
  for (const sign of text.slice(lineStartOf(text, at), at))
    if (sign === '[') closing.unshift(']')
    else if (sign === '{') closing.unshift('}')
    else if (sign === ']' || sign === '}') closing.shift()
  return closing.join('')
}

/** What is written in the place of a token: as a key, as a value, or as the whole of a new pair. */
const MARKED = {
  yaml: { key: MARK, value: MARK, whole: [`${MARK}:`] },
  toml: { key: `"${MARK}"`, value: `"${MARK}"`, whole: [`"${MARK}" = 0`] },
} as const

const read = (text: string, format: 'yaml' | 'toml') => (format === 'toml' ? readToml : readYaml)({ file: '', text })

/** The number of faulty lines that are left out. */
const MOST_FAULTS = 12

/** Reads a text without the lines that cannot be read, but for the one that a place is in. */
function readLeniently(text: string, kept: number, format: 'yaml' | 'toml'): unknown {
  let source = text
  for (let fault = 0; fault <= MOST_FAULTS; fault++) {
    const { document, diagnostics } = read(source, format)
    if (document) return document.value
    const at = diagnostics.find(({ severity }) => severity === 'error')?.span[0] ?? source.length
    const start = lineStartOf(source, at)
    const end = source.indexOf('\n', at) === -1 ? source.length : source.indexOf('\n', at)
    if ((kept >= start && kept <= end) || source.slice(start, end).trim() === '') return undefined
    source = source.slice(0, start) + ' '.repeat(end - start) + source.slice(end)
  }
  return undefined
}

/** The line of a place with the lines that it stands in, and those beside it that can be read by themselves. */
function linesAround(text: string, at: number): { text: string } & string {
  const lines = text.split('\n')
  const own = text.slice(0, at).split('\n').length - 1
  const indentOf = (line: string): number => /^\s*/.exec(line)?.[0].length ?? 0
  let indent = indentOf(lines[own] ?? '')
  const kept = [lines[own] ?? '']
  for (let line = own - 1; line >= 0; line--) {
    const one = lines[line] ?? ''
    const depth = indentOf(one)
    if (one.trim() === '' || one.trim().startsWith('#')) continue
    const isBeside = depth === indent && /^\s*[\w$-]+:(?:\s|$)/.test(one)
    const isAbove = depth < indent && /^\s*(?:-\s+)*(?:[\w$-]+|"[^"]*"|'[^']*'):(?:\s|$)|^\s*-\s/.test(one)
    if (!isBeside && !isAbove) continue
    if (isAbove) indent = depth
    kept.unshift(isBeside ? `${one.slice(0, one.indexOf(':'))}: 0` : one.replace(/:\s[\s\S]*/, ':'))
  }
  return kept.join('\n') as never
}

/** Finds the mark in data. */
function placeMark(value: unknown): Omit<Cursor, 'token'> | undefined {
  const found = searchMark(value, [])
  return found && { value, ...found }
}

function searchMark(value: unknown, path: readonly PathSegment[]): Pick<Cursor, 'path' | 'part'> | undefined {
  if (value === MARK) return { path, part: 'value' }
  if (typeof value !== 'object' || value === null) return undefined
  if (isGroup(value) && Object.hasOwn(value, MARK)) return { path, part: 'key' }
  for (const [key, inner] of Object.entries(value)) {
    const found = searchMark(inner, [...path, Array.isArray(value) ? Number(key) : key])
    if (found) return found
  }
  return undefined
}

const PARSING = { allowTrailingComma: true, allowEmptyContent: true } as const

function findInJson(text: string, offset: number, at: readonly PathSegment[] = []): Cursor | undefined {
  const { path, previousNode, isAtPropertyKey } = getLocation(text, offset)
  const span = previousNode
    ? ([previousNode.offset, previousNode.offset + previousNode.length] as const)
    : bareWord(text, offset)
  const isWithin = offset >= span[0] && offset <= span[1]
  const [start, end] = isWithin ? span : [offset, offset]
  const isKey = isAtPropertyKey && /^\s*:/.test(text.slice(end))
  const token = tokenOf(text, [start, end], offset, { isInFlow: true, isKey })
  const mark = isAtPropertyKey && !isKey ? `"${MARK}": 0` : `"${MARK}"`
  const value = parse(text.slice(0, start) + mark + text.slice(end), [], PARSING) as unknown
  return {
    token,
    value,
    path: [...at, ...(isAtPropertyKey ? path.slice(0, -1) : path)],
    part: isAtPropertyKey ? 'key' : 'value',
  }
}

function bareWord(text: string, offset: number): readonly [number, number] {
  const behind = /^[\w.+-]*/.exec(text.slice(offset))?.[0].length ?? 0
  return [runStartOf(text, offset, /[\w.+-]/), offset + behind]
}

function findInJsonLines(text: string, offset: number): Cursor | undefined {
  const start = lineStartOf(text, offset)
  const end = text.indexOf('\n', offset) === -1 ? text.length : text.indexOf('\n', offset)
  const number = text
    .slice(0, start)
    .split('\n')
    .filter((line) => line.trim() !== '').length
  const found = findInJson(text.slice(start, end), offset - start, [number])
  if (!found) return undefined
  const { token } = found
  const values: unknown[] = []
  values[number] = found.value
  return { ...found, value: values, token: { ...token, span: [token.span[0] + start, token.span[1] + start] } }
}

function findInTable(text: string, offset: number, options: CsvOptions): Cursor | undefined {
  const delimiter = options.delimiter ?? ','
  const quote = options.quote ?? '"'
  let [start, isQuoted, end] = [0, false, text.length]
  for (let at = 0; at < text.length; at++) {
    const sign = text[at]
    if (sign === quote) isQuoted = !isQuoted
    else if (!isQuoted && (sign === delimiter || sign === '\n' || sign === '\r')) {
      if (at >= offset) {
        end = at
        break
      }
      start = at + 1
    }
  }
  const token = tokenOf(text, [start, end], offset, { isInFlow: false, isKey: false })
  const { document } = readCsv({ file: '', text: text.slice(0, start) + MARK + text.slice(end) }, options)
  const found = placeMark(document?.value)
  return found && { token, ...found }
}
