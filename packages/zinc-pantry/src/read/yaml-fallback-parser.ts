import {
  type Alias,
  type Document,
  isAlias,
  isCollection,
  isMap,
  isNode,
  isPair,
  isScalar,
  isSeq,
  type Node,
  parseAllDocuments,
  Scalar,
  visit,
  type YAMLError,
} from 'yaml'
import type { Span } from '../diagnostics/diagnostic.ts'
import { setOwn } from '../diagnostics/own-key.ts'
import type { PathSegment, PlaceNode } from './document.ts'
import { type ComposedText, type ComposedYaml, keyText } from './yaml-events.ts'
import { MAX_ALIASED, type UnknownTag, type YamlFault } from './yaml-fault.ts'
import { isCoreTag, resolvePlainScalar, resolveTaggedScalar, UNFIT } from './yaml-scalar.ts'
import { explainNoPair, explainYaml, findOutdented, mustBeQuoted, type YamlWords } from './yaml-words.ts'

/**
 * Reads what the fast parser refused with a slower and more exact one, whose word is final: either
 * the text is valid after all, or its first error is described.
 */
export function parseFallback(text: string): ComposedText {
  const parsed = parseAllDocuments(text, {
    version: '1.2',
    prettyErrors: false,
    logLevel: 'silent',
    // Keys are texts here: 1 and 1.0 are two.
    uniqueKeys: false,
  })
  if (!Array.isArray(parsed)) return { documents: [] }
  const documents: ComposedYaml[] = []
  const unknownTags: UnknownTag[] = []
  for (const document of parsed) {
    const error = [...document.errors].sort((a, b) => a.pos[0] - b.pos[0])[0]
    if (error) return { documents, fault: describeError(error, document, text) }
    const composer = createComposer(text, unknownTags)
    const place: PlaceNode = { span: [document.range[0], document.range[1]] }
    const value = document.contents ? composer.compose(document.contents, place) : null
    if (composer.fault) return { documents, fault: composer.fault }
    documents.push({ value, place })
  }
  return { documents, unknownTags }
}

/** The node that an anchor names. */
interface Anchor {
  value: unknown
  /** Its text as a key. */
  text: string
  /** Values in it, itself included, aliases expanded. */
  size: number
  isOpen: boolean
}

interface Composer {
  compose(node: unknown, place: { span: Span; children?: Map<PathSegment, PlaceNode> }): unknown
  fault?: YamlFault
}

/** The tag in front of a node, as it is written; it is looked for among so many signs. */
const TAG = /(!\S*)\s+(?:&\S+\s+)?$/
const MOST_BEFORE = 1000

function createComposer(text: string, unknownTags: UnknownTag[]): Composer {
  const noteTag = ({ tag, range }: Node): void => {
    if (tag === undefined || isCoreTag(tag)) return
    const end = range?.[0] ?? 0
    const from = Math.max(0, end - MOST_BEFORE)
    const found = TAG.exec(text.slice(from, end))
    const start = found ? from + found.index : end
    const written = found?.[1] ?? tag
    unknownTags.push({ tag: written, span: [start, start + written.length] })
  }

  /** Values so far, aliases expanded, and those of them that aliases added: counted as the other parser does. */
  let count = 0
  let aliased = 0
  // The parser's own way to the node of an alias goes through the whole document each time.
  const anchors = new Map<string, Anchor>()
  const composer: Composer = {
    compose(node, place) {
      if (isAlias(node)) return aliasValue(node, place)
      const anchor = isNode(node) && node.anchor ? open(node.anchor) : undefined
      const before = count
      count++
      if (isNode(node)) noteTag(node)
      const value = composeNode(node, place)
      if (anchor) Object.assign(anchor, { value, size: count - before, isOpen: false, text: textOfKey(node, value) })
      return value
    },
  }
  const open = (name: string): Anchor => {
    const anchor: Anchor = { value: null, text: '', size: 1, isOpen: true }
    anchors.set(name, anchor)
    return anchor
  }
  const composeNode = (node: unknown, place: { span: Span; children?: Map<PathSegment, PlaceNode> }): unknown => {
    if (isScalar(node)) return scalarValue(node, place)
    if (isSeq(node)) {
      place.span = rangeOf(node)
      place.children = new Map()
      return node.items.map((item, position) => childOf(place, position, item))
    }
    return isMap(node) ? mapValue(node.items, node, place) : null
  }
  const childOf = (place: { children?: Map<PathSegment, PlaceNode> }, step: PathSegment, node: unknown, key?: Span) => {
    const child: PlaceNode = { span: key ? [key[1], key[1]] : [0, 0] }
    if (key) child.key = key
    const value = composer.compose(node, child as { span: Span })
    place.children?.set(step, child)
    return value
  }
  const mapValue = (
    items: readonly unknown[],
    node: Node,
    place: { span: Span; children?: Map<PathSegment, PlaceNode> },
  ): unknown => {
    place.span = rangeOf(node)
    place.children = new Map()
    const group: Record<string, unknown> = {}
    for (const pair of items) {
      if (!isPair(pair)) continue
      const keyPlace: { span: Span } = { span: [0, 0] }
      const key = textOfKey(pair.key, composer.compose(pair.key, keyPlace))
      if (Object.hasOwn(group, key)) composer.fault ??= { code: 'duplicate-key', span: keyPlace.span, key }
      setOwn(group, key, childOf(place, key, pair.value, keyPlace.span))
    }
    return group
  }
  const scalarValue = (node: Scalar, place: { span: Span }): unknown => {
    place.span = rangeOf(node)
    const source = node.source ?? String(node.value ?? '')
    const tag = node.tag
    if (tag && tag !== '!') {
      const value = resolveTaggedScalar(source, tag)
      if (value !== UNFIT) return value
      composer.fault ??= { code: 'unfit-tag', span: place.span, tag, text: source }
      return null
    }
    return node.type === Scalar.PLAIN && !tag ? resolvePlainScalar(source) : source
  }
  const aliasValue = (node: Alias, place: { span: Span }): unknown => {
    place.span = rangeOf(node)
    const anchor = anchors.get(node.source)
    if (!anchor || anchor.isOpen) {
      composer.fault ??= { code: anchor ? 'alias-recursive' : 'alias-unknown', span: place.span, name: node.source }
      return null
    }
    count += anchor.size
    aliased += anchor.size
    if (aliased > MAX_ALIASED) composer.fault ??= { code: 'too-large', span: place.span }
    return anchor.value
  }
  const textOfKey = (key: unknown, value: unknown): string => {
    if (isScalar(key)) return key.source ?? String(key.value ?? '')
    if (isAlias(key)) return anchors.get(key.source)?.text ?? ''
    return value === null ? '' : keyText(value)
  }
  const rangeOf = (node: Node): Span => {
    const [start, end] = node.range ?? [0, 0]
    const quoted = text.slice(start, end).trimEnd()
    return [start, start + quoted.length]
  }
  return composer
}

const BAD_INDENT = 'Indentation differs from that of the lines around'

function describeError(error: YAMLError, document: Document.Parsed, text: string): YamlFault {
  const span = tokenAt(text, error.pos[0])
  const opening = (test: (node: Node) => boolean): Span => {
    let found: Span = span
    visit(document, {
      Node(_, node) {
        if (isAlias(node) || !node.range || node.range[0] > error.pos[0]) return
        if (test(node as Node)) found = [node.range[0], node.range[0] + 1]
      },
    })
    return found
  }
  const isQuoted = (node: Node) =>
    isScalar(node) && (node.type === Scalar.QUOTE_DOUBLE || node.type === Scalar.QUOTE_SINGLE)
  const syntax = (words: string | YamlWords, at: Span = span): YamlFault => {
    const { reason, corrected } = typeof words === 'string' ? { reason: words } : words
    return { code: 'syntax', reason, ...(corrected === undefined ? {} : { corrected }), span: at }
  }
  switch (error.code) {
    case 'TAB_AS_INDENT':
      return { code: 'tab', span: [error.pos[0], error.pos[0] + 1] }
    case 'BLOCK_AS_IMPLICIT_KEY': {
      const value = restOfLine(text, error.pos[0])
      const written = text.slice(value[0], value[1])
      if (/:(?:\s|$)/.test(written)) return { code: 'colon', ...withoutComment(value, written) }
      // The value goes on in the next line, which was meant as a key.
      return syntax(BAD_INDENT, tokenAt(text, value[1]))
    }
    case 'MISSING_CHAR':
      if (error.message.includes('quote')) return syntax('Quote is never closed', opening(isQuoted))
      if (error.message.includes('Implicit map keys'))
        return syntax(explainNoPair(text, error.pos[0]), restOfLine(text, error.pos[0]))
      break
    case 'BAD_INDENT':
      if (error.message.startsWith('Flow')) {
        const at = opening((node) => isCollection(node) && node.flow === true)
        const outdented = findOutdented(text, at[0])
        return outdented
          ? syntax('A closing bracket must be indented further than the key', outdented)
          : syntax('Bracket is never closed', at)
      }
      return syntax(/seq/i.test(error.message) ? 'Items of one list must start in one column' : BAD_INDENT)
    case 'BAD_SCALAR_START':
      return syntax(
        mustBeQuoted(`Text that starts with ${text.charAt(span[0])} must be quoted`, text, span[0]),
        restOfLine(text, span[0]),
      )
    case 'UNEXPECTED_TOKEN':
      if (/["']\s*$/.test(text.slice(0, error.pos[0]).slice(-40)))
        return syntax(
          mustBeQuoted('Text after a closing quote; a quote inside must be doubled or escaped', text, error.pos[0]),
          restOfLine(text, error.pos[0]),
        )
      break
    case 'MULTILINE_IMPLICIT_KEY':
      return syntax(explainNoPair(text, error.pos[0]), restOfLine(text, error.pos[0]))
  }
  if (/nesting|depth|call stack/i.test(error.message)) return { code: 'too-deep', span }
  return syntax(explainYaml(error.message, text, error.pos[0]))
}

/** The value of a line, up to a comment behind it. */
function withoutComment([start]: Span, written: string): { span: Span; text: string } {
  const above = Math.max(0, written.lastIndexOf('\n'))
  const space = written.slice(above).search(/\s#/)
  const text = space === -1 ? written : written.slice(0, above + space).trimEnd()
  return { span: [start, start + text.length], text }
}

/** The word at an offset, or the next one when there is only space. */
function tokenAt(text: string, offset: number): Span {
  let start = Math.min(offset, text.length)
  while (start < text.length && /\s/.test(text.charAt(start))) start++
  if (start >= text.length) return [Math.max(0, text.trimEnd().length - 1), text.trimEnd().length]
  let end = start
  while (end < text.length && /[^\s:,\]}]/.test(text.charAt(end))) end++
  return [start, Math.max(end, start + 1)]
}

/** From an offset to the last visible character of its line. */
function restOfLine(text: string, offset: number): Span {
  const [start] = tokenAt(text, offset)
  const length = text.slice(start).search(/[\r\n]/)
  const line = length === -1 ? text.slice(start) : text.slice(start, start + length)
  return [start, start + Math.max(1, line.trimEnd().length)]
}
