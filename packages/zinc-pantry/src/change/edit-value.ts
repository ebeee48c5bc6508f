import type { Span } from '../diagnostics/diagnostic.ts'
import { isGroup, setOwn, valueAt } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { Format } from '../read/formats.ts'
import { listYamlComments } from '../read/yaml-comments.ts'
import { addTomlKey } from './add-toml-key.ts'
import { type EditedSource, type TextEdit, withEdits } from './edited-source.ts'
import { neighbourOf } from './key-order.ts'
import { commaBefore, indentOf, lineEndAfter, lineEndOf, spaceBefore } from './line-places.ts'
import { proposeTableRemoval } from './remove-table.ts'
import { cellStyleOf, writeCell } from './write-cell.ts'
import { writeYaml } from './write-record.ts'
import { writeProse, writeScalar } from './write-scalar.ts'
import { writeValue } from './write-value.ts'

/**
 * The edit of a text that gives a value at a path, or takes it away where it is undefined; undefined where a person has to do it. It is
 * proved: with it the text reads as before but for that value, as its own reader says.
 */
export function editValue(
  source: EditedSource,
  path: readonly PathSegment[],
  value: unknown,
  {
    isWhole = false,
    order,
  }: {
    /** Comments in a value that goes may go with it. Default: false. */
    readonly isWhole?: boolean
    /** The order of the keys beside it, where a key is to come in its place. Default: it comes last. */
    readonly order?: readonly string[] | undefined
  } = {},
): TextEdit | undefined {
  const edit = proposeEdit(source, path, value, order)
  if (!edit) return undefined
  const { format, document } = source
  const after = withEdits(source, [edit])
  if (!after || !(isWhole || haveSameComments(source, after.text))) return undefined
  const wanted = withValue(document.value, path, format.hasCells ? cellOf(value, edit.text) : value)
  return canonical(after.document.value) === canonical(wanted) ? edit : undefined
}

/** True where every comment is still there. */
export const haveSameComments = ({ text, format }: EditedSource, after: string): boolean =>
  JSON.stringify(listComments(text, format)) === JSON.stringify(listComments(after, format))

/** The comments of a text, in order. */
export function listComments(text: string, { name, canHoldMany }: Format): readonly string[] {
  if (name === 'jsonc') return text.replace(STRINGS, '').match(/\/\/.*|\/\*[\s\S]*?\*\//g) ?? []
  if (name === 'toml') return text.replace(STRINGS, '').match(/#.*/g) ?? []
  if (name !== 'yaml' && canHoldMany) return []
  const end = canHoldMany ? text.length : (/^---\r?\n[\s\S]*?\n---\s*$/m.exec(text)?.[0].length ?? 0)
  return listYamlComments(text.slice(0, end))
}

/** Texts in quotes, in which signs of comments are none. */
const STRINGS = /"(?:[^"\\\n]|\\.)*"|'[^'\n]*'/g

/** The edit that most likely gives a value at a path; it is still to be proved. */
export function proposeEdit(
  source: EditedSource,
  path: readonly PathSegment[],
  value: unknown,
  order?: readonly string[],
): TextEdit | undefined {
  const { text, document, format } = source
  const key = path.at(-1)
  const owner = valueAt(document.value, path.slice(0, -1)) ?? undefined
  if (typeof key !== 'string') return undefined
  if (owner === undefined && value !== undefined && path.length > 1)
    return proposeEdit(source, path.slice(0, -1), { [key]: value }, order)
  if (!isGroup(owner)) return undefined
  const isThere = Object.hasOwn(owner, key)
  if (format.hasCells) {
    const span = document.locate(path, isThere ? 'value' : 'absent')
    const written = writeCell(value, isThere ? text.slice(...span) : '', cellStyleOf(source))
    return written === undefined ? undefined : { span, text: written }
  }
  if (value === undefined) return isThere ? removeKey(source, path, owner) : undefined
  if (!isThere) return addKey(source, path, { keys: Object.keys(owner), value, order })
  const span = withSign(text, document.locate(path, 'value'), document.locate(path, 'key')[1])
  const old = text.slice(...span)
  const items = owner[key]
  if (Array.isArray(value) && Array.isArray(items) && items.length > 0 && items.length < value.length) {
    const isMore = items.every((item, at) => JSON.stringify(item) === JSON.stringify(value[at]))
    if (isMore) return addItems(source, span, value.slice(items.length))
  }
  const block =
    Array.isArray(value) && value.length > 0 && old.startsWith('- ')
      ? blockList(value, text, span, format)
      : blockText(source, value, { key: document.locate(path, 'key'), span })
  const isFlow = text[document.locate(path.slice(0, -1), 'value')[0]] === '{'
  const isLine = !isFlow && indentOf(text, document.locate(path, 'key')[0]) !== undefined && !/^["']/.test(old)
  const prose = isLine && isYaml(format) && typeof value === 'string' ? writeProse(value) : undefined
  const written = block ?? prose ?? writeValue(value, old, format.name)
  return written === undefined ? undefined : { span, text: isEmptySpan(span, text) ? ` ${written}` : written }
}

/** Items behind the last of a list, as that is written. */
function addItems({ text, format }: EditedSource, [start, end]: Span, items: readonly unknown[]): TextEdit | undefined {
  const written = items.map((item) => writeValue(item, undefined, format.name))
  if (written.includes(undefined)) return undefined
  if (text[end - 1] === ']') {
    const at = commaBefore(text, end - 1) ?? spaceBefore(text, end - 1)
    return { span: [at, at], text: written.map((one) => `, ${one}`).join('') }
  }
  const indent = indentOf(text, start)
  const at = text[end - 1] === '\n' ? end - 1 : end
  if (indent === undefined || text[start] !== '-') return undefined
  const stop = lineEndAfter(text, at)
  return { span: [stop, stop], text: written.map((one) => `${lineEndOf(text)}${indent}- ${one}`).join('') }
}

/** True for the place of a value that is not there, right behind the sign after its key. */
const isEmptySpan = ([start, end]: Span, text: string): boolean => start === end && text[start - 1] === ':'

/** A list of YAML with each item on a line of its own, as it is written now. */
function blockList(value: readonly unknown[], text: string, [start]: Span, format: Format): string | undefined {
  const indent = indentOf(text, start)
  const items = value.map((item) => writeValue(item, undefined, format.name))
  return indent === undefined || items.includes(undefined)
    ? undefined
    : items.map((one) => `- ${one}`).join(`\n${indent}`)
}

/** The span of lines of text in YAML with the sign in front of them, which says that they are such. */
function withSign(text: string, [start, end]: Span, keyEnd: number): Span {
  const sign = /[|>][-+\d]*[ \t]*\r?\n[ \t]*$/.exec(text.slice(keyEnd, start))
  return sign ? [keyEnd + sign.index, end] : [start, end]
}

/** A text of several lines as YAML has it between other lines; undefined for others. */
function blockText(
  { text, format }: EditedSource,
  value: unknown,
  { key: [keyStart], span: [start, end] }: { readonly key: Span; readonly span: Span },
): string | undefined {
  const indent = indentOf(text, keyStart)
  if (typeof value !== 'string' || !isYaml(format) || indent === undefined) return undefined
  const written = writeLines(value, indent + stepOf(text))?.replaceAll('\n', lineEndOf(text))
  return written && text[end - 1] === '\n' && start < end ? written + lineEndOf(text) : written
}

/** A text of several lines behind the sign of YAML for such; undefined for one that its rules do not fit. */
function writeLines(value: string, indent: string): string | undefined {
  const lines = value.replace(/\n$/, '').split('\n')
  const isPlain = lines.length > 1 && !/^\s|\n$|[^\S\n]$|\t|\r|[\0-\x08]/m.test(lines.join('\n').replace(/^\n/gm, ''))
  if (!isPlain || lines[0] === '' || lines.at(-1) === '') return undefined
  const sign = value.endsWith('\n') ? '|' : '|-'
  return [sign, ...lines.map((line) => (line === '' ? '' : indent + line))].join('\n')
}

const isYaml = ({ name }: Format): boolean => name === 'yaml' || name === 'markdown' || name === 'mdx'

/** The spaces that a text puts before what is one step further in. */
const stepOf = (text: string): string => /\n( +)(?![ #-])\S/.exec(text)?.[1]?.slice(0, 4) ?? '  '

/** A key in its place by an order, or behind the last of its group. */
function addKey(
  { text, document, format }: EditedSource,
  path: readonly PathSegment[],
  added: { readonly keys: readonly string[]; readonly value: unknown; readonly order: readonly string[] | undefined },
): TextEdit | undefined {
  const { keys, value, order } = added
  const above = path.slice(0, -1)
  if (format.name === 'toml') return addTomlKey({ text, document }, path, added)
  const { key: last, isBehind } = neighbourOf(String(path.at(-1)), keys, order)
  const isJson = format.name.startsWith('json')
  const key = String(path.at(-1))
  const name = writeScalar(isJson ? '""' : 'a', key, format.name)
  const written = writeValue(value, undefined, format.name)
  if (name === undefined || written === undefined || last === undefined) return undefined
  const [start] = document.locate([...above, last], 'key')
  const [, end] = document.locate([...above, last], 'value')
  const indent = indentOf(text, start)
  // A text of one line has no line end to be looked for.
  const lineEnd = indent === undefined ? '' : lineEndOf(text)
  if (isJson) {
    const isLarge = indent !== undefined && JSON.stringify(value).length > LONG_JSON
    const large = isLarge ? JSON.stringify(value, null, stepOf(text)).replaceAll('\n', lineEnd + indent) : written
    const pair = `${name}: ${large}`
    const gap = indent === undefined ? ', ' : `,${lineEnd}${indent}`
    return isBehind ? { span: [end, end], text: gap + pair } : { span: [start, start], text: pair + gap }
  }
  const [opening] = document.locate(above, 'value')
  if (text[opening] === '{' || indent === undefined)
    return isBehind
      ? { span: [end, end], text: `, ${name}: ${written}` }
      : { span: [start, start], text: `${name}: ${written}, ` }
  const lines =
    typeof value === 'string' ? writeLines(value, indent + stepOf(text))?.replaceAll('\n', lineEnd) : undefined
  const isDeep = isGroup(value) || (Array.isArray(value) && value.length > 0)
  const deep = isDeep
    ? writeYaml({ value: { [key]: value }, comments: new Map() }, { indent: stepOf(text) })
    : undefined
  const prose = typeof value === 'string' ? writeProse(value) : undefined
  const pair =
    deep === undefined ? `${name}: ${lines ?? prose ?? written}` : deep.trimEnd().replaceAll('\n', lineEnd + indent)
  if (!isBehind) return { span: [start, start], text: pair + lineEnd + indent }
  const at = lineEndAfter(text, text[end - 1] === '\n' ? end - 1 : end)
  return { span: [at, at], text: lineEnd + indent + pair }
}

/** What is longer in JSON has lines of its own. */
const LONG_JSON = 60

/** A key and its value, with its line where it has one for itself; a comment behind it stays. */
function removeKey(
  source: EditedSource,
  path: readonly PathSegment[],
  owner: Readonly<Record<string, unknown>>,
): TextEdit | undefined {
  const { text, document, format } = source
  const table = format.name === 'toml' ? proposeTableRemoval(source, path) : undefined
  if (table) return table
  const [start] = document.locate(path, 'key')
  const [, end] = document.locate(path, 'value')
  const isJson = format.name.startsWith('json')
  const indent = indentOf(text, start)
  const keys = Object.keys(owner)
  const isInline = isJson || indent === undefined || indent.length !== start - (text.lastIndexOf('\n', start - 1) + 1)
  if (isInline) {
    const behind = /^\s*,[ \t]*(?:\r?\n[ \t]*)?/.exec(text.slice(end))
    if (behind) return { span: [start, end + behind[0].length], text: '' }
    const before = keys.length > 1 ? commaBefore(text, start) : undefined
    return before === undefined ? undefined : { span: [before, end], text: '' }
  }
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  const stop = text[end - 1] === '\n' ? end - 1 : end
  const rest = text.slice(stop, lineEndAfter(text, stop))
  // A comment behind it stays, in the place of the key.
  const comment = /^[^#\n]*?\s(?=#)/.exec(rest)?.[0]
  if (comment !== undefined) return { span: [lineStart, stop + comment.length], text: indent + comment.trim() }
  const line = /^[^\n]*\n?/.exec(text.slice(stop))?.[0].length ?? 0
  return { span: [lineStart, stop + line], text: '' }
}

/** A cell as its reader gives it: text, or nothing. */
export const cellOf = (value: unknown, written: string): unknown =>
  value === undefined || value === null ? '' : /^"/.test(written) ? written.slice(1, -1).replaceAll('""', '"') : written

/** A copy of a value with another at a path, or with none. */
function withValue(value: unknown, [step, ...rest]: readonly PathSegment[], wanted: unknown): unknown {
  if (step === undefined) return wanted
  if (Array.isArray(value)) return value.map((item, at) => (at === step ? withValue(item, rest, wanted) : item))
  const copy: Record<string, unknown> = { ...(isGroup(value) ? value : {}) }
  const inner = withValue(copy[step], rest, wanted)
  if (inner === undefined) delete copy[step]
  else setOwn(copy, String(step), inner)
  return copy
}

/** Data as a text that is the same for the same data: where a key stands says nothing. */
export const canonical = (value: unknown): string => JSON.stringify(sorted(value))

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (!isGroup(value)) return value
  return Object.fromEntries(
    Object.keys(value)
      .sort()
      .map((key) => [key, sorted((value as Readonly<Record<string, unknown>>)[key])]),
  )
}
