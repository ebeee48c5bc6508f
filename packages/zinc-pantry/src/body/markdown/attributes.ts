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

/** Finds the bracket that closes another one in a text; undefined where none does. */
export type BracketFinder = (text: string, open: number) => number | undefined

/** Makes a finder that goes over a text once, however many brackets it is asked for. */
export function createBracketFinder(): BracketFinder {
  let known: { readonly text: string; readonly closings: ReadonlyMap<number, number> } | undefined
  return (text, open) => {
    if (known?.text !== text) known = { text, closings: pairBrackets(text) }
    return known.closings.get(open)
  }
}

function pairBrackets(text: string): Map<number, number> {
  const closings = new Map<number, number>()
  const open: number[] = []
  for (let at = 0; at < text.length; at++) {
    const sign = text[at]
    if (sign === '\\') at++
    else if (sign === '[') open.push(at)
    const opening = sign === ']' ? open.pop() : undefined
    if (opening !== undefined) closings.set(opening, at)
  }
  return closings
}

/** Where a directive may stand. */
export interface DirectiveSource {
  readonly text: string
  /** Where the line or the label ends that it stands in. */
  readonly end: number
  readonly closingOf: BracketFinder
}

/** Reads `name[label]{key=value flag}` at an offset. */
export function readDirectiveHead(source: DirectiveSource, start: number): DirectiveHead | undefined {
  const name = match(NAME, source.text, start)
  if (!name || start + name[0].length > source.end) return undefined
  const text = source.text.slice(0, source.end)
  let end = start + name[0].length
  const label = readLabel(source, end)
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
function readLabel({ text, end, closingOf }: DirectiveSource, start: number): DirectiveHead['label'] {
  const closing = text[start] === '[' ? closingOf(text, start) : undefined
  if (closing === undefined || closing >= end) return undefined
  return { text: text.slice(start + 1, closing), span: [start + 1, closing] }
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
