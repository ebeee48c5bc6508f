import type { RawAttribute } from './token.ts'

const NAME = /[A-Za-z][\w-]*/y
const SPACE = /\s*/y
const ATTRIBUTE = /([A-Za-z_:][\w:.-]*)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'`{}=<>]+)))?/y
const SHORT = /([#.])([\w-]+)/y

/** A name with what follows it in a directive. */
export interface DirectiveHead {
  readonly name: string
  readonly span: readonly [number, number]
  readonly attributes: readonly RawAttribute[]
  /** The text in brackets, and where it stands. */
  readonly label: { readonly text: string; readonly span: readonly [number, number] } | undefined
  readonly end: number
  readonly hasMore: boolean
}

/** Reads `name[label]{key=value flag}` at an offset. */
export function readDirectiveHead(text: string, start: number): DirectiveHead | undefined {
  const name = match(NAME, text, start)
  if (!name) return undefined
  let end = start + name[0].length
  const label = readLabel(text, end)
  if (label) end = label.span[1] + 1
  const read = text[end] === '{' ? readAttributes(text, end) : undefined
  if (read) end = read.end
  return {
    name: name[0],
    span: [start, start + name[0].length],
    label,
    attributes: read?.attributes ?? [],
    end,
    hasMore: (label ?? read) !== undefined,
  }
}

/** Text in balanced brackets. */
function readLabel(text: string, start: number): DirectiveHead['label'] {
  if (text[start] !== '[') return undefined
  let depth = 0
  for (let at = start; at < text.length; at++) {
    if (text[at] === '\\') at++
    else if (text[at] === '[') depth++
    else if (text[at] === ']' && --depth === 0) return { text: text.slice(start + 1, at), span: [start + 1, at] }
  }
  return undefined
}

function readAttributes(text: string, start: number): { attributes: RawAttribute[]; end: number } | undefined {
  const attributes: RawAttribute[] = []
  let at = start + 1
  while (at < text.length) {
    at += match(SPACE, text, at)?.[0].length ?? 0
    if (text[at] === '}') return { attributes, end: at + 1 }
    const short = match(SHORT, text, at)
    const found = short ?? match(ATTRIBUTE, text, at)
    if (!found) return undefined
    const end = at + found[0].length
    if (short) {
      const name = short[1] === '#' ? 'id' : 'class'
      attributes.push({ name, value: short[2] ?? '', key: [at, end], span: [at, end] })
    } else {
      const [whole, name = '', double, single, bare] = found
      const value = double ?? single ?? bare
      const key: [number, number] = [at, at + name.length]
      const closing = bare === undefined ? end - 1 : end
      const span: [number, number] = value === undefined ? key : [closing - value.length, closing]
      attributes.push({ name, value: value ?? true, key, span: whole === name ? key : span })
    }
    at = end
  }
  return undefined
}

function match(pattern: RegExp, text: string, at: number): RegExpExecArray | null {
  pattern.lastIndex = at
  return pattern.exec(text)
}
