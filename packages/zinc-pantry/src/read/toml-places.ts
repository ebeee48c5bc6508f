import { type AST, parseTOML } from 'toml-eslint-parser'
import type { Span } from '../diagnostics/diagnostic.ts'
import type { PathSegment, PlaceNode } from './document.ts'

type Key = AST.TOMLBare | AST.TOMLQuoted

const nameOf = (key: Key): string => (key.type === 'TOMLBare' ? key.name : key.value)

/** The tree of places of a TOML text that is known to be right. */
export function buildTomlPlaces(text: string): PlaceNode {
  const root: PlaceNode = { span: [0, text.length], opening: [0, Math.min(1, text.length)], children: new Map() }
  let body: AST.TOMLTopLevelTable['body']
  try {
    body = parseTOML(text).body[0].body
  } catch {
    // What only one of the two parsers takes has no places of its own.
    return root
  }
  for (const node of body) {
    if (node.type === 'TOMLKeyValue') placeKeyValue(root, node)
    else placeTable(root, node)
  }
  return root
}

/** A key that is written in a TOML text; that of a table may be written several times. */
export interface TomlKey {
  readonly path: readonly PathSegment[]
  readonly span: Span
}

/** All keys of a TOML text, those of tables and dotted ones at each place. */
export function listTomlKeys(text: string): readonly TomlKey[] {
  const found: TomlKey[] = []
  const visitValue = (node: AST.TOMLContentNode, path: readonly PathSegment[]): void => {
    if (node.type === 'TOMLInlineTable') for (const inner of node.body) visitPair(inner, path)
    if (node.type === 'TOMLArray')
      for (const [position, element] of node.elements.entries()) visitValue(element, [...path, position])
  }
  const visitPair = ({ key, value }: AST.TOMLKeyValue, above: readonly PathSegment[]): void => {
    let path = above
    for (const part of key.keys) {
      path = [...path, nameOf(part)]
      found.push({ path, span: [part.range[0], part.range[1]] })
    }
    visitValue(value, path)
  }
  for (const node of parseTOML(text).body[0].body) {
    if (node.type === 'TOMLKeyValue') {
      visitPair(node, [])
      continue
    }
    let written = 0
    for (const [at, step] of node.resolvedKey.entries()) {
      const key = typeof step === 'number' ? undefined : node.key.keys[written++]
      if (key) found.push({ path: node.resolvedKey.slice(0, at + 1), span: [key.range[0], key.range[1]] })
    }
    for (const inner of node.body) visitPair(inner, node.resolvedKey)
  }
  return found
}

/**
 * The span of a table of a TOML text with those inside of it, from the first header to the last value; undefined where it is no table, or
 * others stand between them.
 */
export function spanOfTomlTable(text: string, path: readonly PathSegment[]): Span | undefined {
  const isInside = (node: AST.TOMLTopLevelTable['body'][number]): node is AST.TOMLTable =>
    node.type === 'TOMLTable' && path.every((step, at) => node.resolvedKey[at] === step)
  const { body } = parseTOML(text).body[0]
  const inside = body.filter(isInside)
  const [first, last] = [inside[0], inside.at(-1)]
  if (!first || !last || body.indexOf(last) - body.indexOf(first) >= inside.length) return undefined
  return [first.range[0], last.range[1]]
}

function childOf(parent: PlaceNode, step: PathSegment, make: () => PlaceNode): PlaceNode {
  parent.children ??= new Map()
  const known = parent.children.get(step)
  if (known) return known
  const child = make()
  parent.children.set(step, child)
  return child
}

function placeTable(root: PlaceNode, table: AST.TOMLTable): void {
  const keys = table.key.keys
  let written = 0
  let at = root
  for (const step of table.resolvedKey) {
    // Steps into lists of tables are counted, not written.
    const key = typeof step === 'number' ? keys[written - 1] : keys[written++]
    const range = key?.range ?? table.key.range
    at = childOf(at, step, () => ({
      span: [table.range[0], table.range[1]],
      key: [range[0], range[1]],
      children: new Map(),
    }))
  }
  for (const node of table.body) placeKeyValue(at, node)
}

function placeKeyValue(parent: PlaceNode, { key, value }: AST.TOMLKeyValue): void {
  let at = parent
  const last = key.keys.length - 1
  for (const [position, part] of key.keys.entries()) {
    const place: PlaceNode =
      position === last ? placeValue(value) : { span: [part.range[0], value.range[1]], children: new Map() }
    place.key = [part.range[0], part.range[1]]
    at = childOf(at, nameOf(part), () => place)
  }
}

function placeValue(node: AST.TOMLContentNode): PlaceNode {
  const [start, end] = node.range
  if (node.type === 'TOMLValue') return { span: [start, end] }
  const place: PlaceNode = { span: [start, end], opening: [start, start + 1], children: new Map() }
  if (node.type === 'TOMLInlineTable') for (const inner of node.body) placeKeyValue(place, inner)
  else for (const [position, element] of node.elements.entries()) place.children?.set(position, placeValue(element))
  return place
}
