import { decodeNamedCharacterReference } from 'decode-named-character-reference'
import type { PhrasingContent } from 'mdast'
import { classifyCharacter } from 'micromark-util-classify-character'
import { decodeNumericCharacterReference } from 'micromark-util-decode-numeric-character-reference'
import { doubt } from '../doubt.ts'
import { readAutolink, STARTS_AUTOLINK } from './autolinks.ts'
import { type Label, type Piece, plainText, type Run, resolvePieces, type Scope, TILDE } from './inline-pieces.ts'
import { readCode } from './javascript.ts'
import { type Names, readLinkEnd, readNote } from './links.ts'
import { readTag } from './tags.ts'
import { skipSpaces, type View } from './view.ts'

/** The surroundings of a text. */
export interface InlineContext {
  readonly names: Names
  /** True in a cell, in which a pipe in code is escaped. */
  readonly isCell?: boolean
}

const PLAIN = /[^\\`*_[\]!<{&~\n]+/y
/** The same where an address may begin. */
const PLAIN_OR_ADDRESS = /[^\\`*_[\]!<{&~\n@hHwW]+/y
const REFERENCE = /&(?:#(\d{1,7})|#[xX]([\dA-Fa-f]{1,6})|([\dA-Za-z]{1,31}));/y
const PUNCTUATION = /[!-/:-@[-`{-~]/

/** The nodes of a text, from an offset to another; it neither begins nor ends with a space. */
export function parseInlines(view: View, start: number, end: number, context: InlineContext): PhrasingContent[] {
  const { text } = view
  const pieces: Piece[] = []
  const labels: Label[] = []
  const scope: Scope = { view, leftTildes: [], hasEmphasis: false }
  const mayLink = STARTS_AUTOLINK.test(text.slice(start, end))
  // Where the compiler goes back over the end of a line in a container, it tells places of ends of lines otherwise.
  const mayMisplace = view.isNested && text.slice(start, end).includes('\n')
  const tildes: Run[] = []
  let at = start

  const add = (to: number, value = text.slice(at, to), isRaw = true): void => {
    const last = pieces.at(-1)
    if (isRaw && last?.kind === 'text' && last.isRaw && last.end === at)
      pieces[pieces.length - 1] = { ...last, value: last.value + value, end: to }
    else pieces.push({ kind: 'text', value, isRaw, start: at, end: to })
    at = to
  }
  const addNode = (node: PhrasingContent, to: number): void => {
    pieces.push({ kind: 'node', node, start: at, end: to })
    at = to
  }

  while (at < end) {
    const code = text.charCodeAt(at)
    if (mayLink && !labels.some(({ isBalanced }) => !isBalanced)) {
      const link = readAutolink(view, at, start, end)
      if (link) {
        addNode(link.node, link.end)
        continue
      }
    }
    if (code === 92) addEscape()
    else if (code === 96) addCode()
    else if (code === 42 || code === 95) addRun(code)
    else if (code === TILDE) addTildes()
    else if (code === 91) openLabel(at + 1, false)
    else if (code === 33 && text.charCodeAt(at + 1) === 91 && at + 1 < end) openLabel(at + 2, true)
    else if (code === 93) closeLabel()
    else if (code === 60) addTag()
    else if (code === 123) addExpression()
    else if (code === 38) addReference()
    else if (code === 10) addLine()
    else add(plainEnd(mayLink ? PLAIN_OR_ADDRESS : PLAIN))
  }
  const nodes = resolvePieces(pieces, scope)
  if (scope.hasEmphasis && mayPair(scope.leftTildes, tildes)) doubt('tildes that may cross emphasis')
  return nodes

  function plainEnd(pattern: RegExp): number {
    pattern.lastIndex = at
    return Math.min(end, at + Math.max(1, pattern.exec(text)?.[0].length ?? 0))
  }

  function addEscape(): void {
    const next = text[at + 1] ?? ''
    if (at + 1 >= end) add(at + 1)
    else if (next === '\n') {
      const behind = at + 2
      addNode({ type: 'break', position: view.position(at, behind) }, skipSpaces(text, behind, end))
    } else if (PUNCTUATION.test(next)) {
      if (next === '~' && text[at + 2] === '~') doubt('tildes behind an escaped one')
      if (next === '`' && text[at + 2] === '`') doubt('graves behind an escaped one')
      add(at + 2, next, false)
    } else add(at + 1)
  }

  function addCode(): void {
    const size = countOf(96)
    let close = at + size
    while (close !== -1 && close < end) {
      close = text.indexOf('`', close)
      if (close === -1 || close >= end) break
      const from = close
      while (close < end && text.charCodeAt(close) === 96) close++
      if (close - from !== size) continue
      addNode({ type: 'inlineCode', value: codeValue(at + size, from), position: view.position(at, close) }, close)
      return
    }
    if (mayMisplace) doubt('a grave that is left in a container')
    add(at + size)
  }

  function codeValue(from: number, to: number): string {
    const written = text.slice(from, to)
    const isPadded = /^[ \n]/.test(written) && /[ \n]$/.test(written) && /[^ \n]/.test(written)
    const value = isPadded ? view.slice(from + 1, to - 1) : view.slice(from, to)
    return context.isCell ? value.replace(/\\([\\|])/g, (all, sign: string) => (sign === '|' ? sign : all)) : value
  }

  function countOf(code: number): number {
    let to = at
    while (to < end && text.charCodeAt(to) === code) to++
    return to - at
  }

  function addRun(marker: number): void {
    const to = at + countOf(marker)
    const [before, after] = classes(to)
    const next = to < end ? text.charCodeAt(to) : 0
    const previous = at > start ? text.charCodeAt(at - 1) : 0
    const opens = !after || (after === 2 && !!before) || next === TILDE
    const closes = !before || (before === 2 && !!after) || previous === TILDE
    const isStar = marker === 42
    pieces.push({
      kind: 'run',
      marker,
      opens: isStar ? opens : opens && (!!before || !closes),
      closes: isStar ? closes : closes && (!!after || !opens),
      start: at,
      end: to,
    })
    at = to
  }

  function addTildes(): void {
    const to = at + countOf(TILDE)
    if (to - at > 2) {
      add(to)
      return
    }
    const [before, after] = classes(to)
    const opens = !after || (after === 2 && !!before)
    const closes = !before || (before === 2 && !!after)
    const run: Run = { kind: 'run', marker: TILDE, opens, closes, start: at, end: to }
    pieces.push(run)
    tildes.push(run)
    at = to
  }

  /** What stands before the current offset and at another: 1 for space, 2 for punctuation. */
  function classes(to: number): [1 | 2 | undefined, 1 | 2 | undefined] {
    const classOf = (code: number | null): 1 | 2 | undefined => classifyCharacter(code) as 1 | 2 | undefined
    return [classOf(at > start ? text.charCodeAt(at - 1) : null), classOf(to < end ? text.charCodeAt(to) : null)]
  }

  function openLabel(to: number, isImage: boolean): void {
    const note = isImage ? undefined : readNote(view, at, end, context.names)
    if (note) {
      addNode(note.node, note.end)
      return
    }
    if (isImage && text[to] === '^' && context.names.notes.size > 0) doubt('a note behind a mark')
    const label: Label = { kind: 'label', isImage, isBalanced: false, isInactive: false, start: at, end: to }
    labels.push(label)
    pieces.push(label)
    at = to
  }

  function closeLabel(): void {
    while (labels.at(-1)?.isBalanced) labels.pop()
    const label = labels.at(-1)
    if (!label) {
      add(at + 1)
      return
    }
    const written = text.slice(label.end, at)
    const found = label.isInactive ? undefined : readLinkEnd(view, at, end, written, context.names)
    if (!found) {
      if (mayMisplace && /[([]/.test(text[at + 1] ?? '')) doubt('a bracket that is left in a container')
      label.isBalanced = true
      add(at + 1)
      return
    }
    labels.pop()
    const from = pieces.lastIndexOf(label)
    const children = resolvePieces(pieces.splice(from).slice(1), scope)
    const position = view.position(label.start, found.end)
    at = label.start
    if (label.isImage) {
      const alt = plainText(children)
      if (found.kind === 'resource')
        addNode({ type: 'image', title: found.title, url: found.url, alt, position }, found.end)
      else addNode({ type: 'imageReference', alt, ...found.reference, position }, found.end)
      return
    }
    for (const outer of labels) if (!outer.isImage) outer.isInactive = true
    if (found.kind === 'resource')
      addNode({ type: 'link', title: found.title, url: found.url, children, position } as PhrasingContent, found.end)
    else addNode({ type: 'linkReference', children, ...found.reference, position } as PhrasingContent, found.end)
  }

  function addTag(): void {
    const tag = readTag(view, at, end)
    if (tag) pieces.push({ kind: 'tag', tag, start: at, end: tag.end })
    if (tag) at = tag.end
    else add(at + 1)
  }

  function addExpression(): void {
    const { value, estree, end: to } = readCode(view, at, end, 'expression')
    addNode({ type: 'mdxTextExpression', value, position: view.position(at, to), data: { estree } }, to)
  }

  function addReference(): void {
    REFERENCE.lastIndex = at
    const [all, decimal, hexadecimal, name] = REFERENCE.exec(text) ?? []
    const value =
      all === undefined || at + all.length > end
        ? undefined
        : name === undefined
          ? decodeNumericCharacterReference(decimal ?? (hexadecimal as string), decimal === undefined ? 16 : 10)
          : decodeNamedCharacterReference(name)
    if (all === undefined || value === undefined || value === false) add(at + 1)
    else add(at + all.length, value, false)
  }

  function addLine(): void {
    pieces.push({ kind: 'line', start: at, end: at + 1 })
    at = skipSpaces(text, at + 1, end)
  }
}

/** True where a run that is left could have belonged together with another. */
const mayPair = (left: readonly Run[], all: readonly Run[]): boolean =>
  left.some((run) =>
    all.some((other) => {
      const [opener, closer] = run.start < other.start ? [run, other] : [other, run]
      return run !== other && opener.opens && closer.closes && closer.end - closer.start === opener.end - opener.start
    }),
  )
