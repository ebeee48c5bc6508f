import type { Span } from '../../diagnostics/diagnostic.ts'
import type { SettingStep } from '../../schema/settings-reader.ts'
import {
  type Body,
  type Call,
  calleeOf,
  constantOf,
  createParser,
  findCall,
  type Node,
  nameOfKey,
  type ObjectNode,
  unwrap,
} from './syntax.ts'

/**
 * The place of a setting in the text of a configuration: as far along its path as the text shows. A
 * part that comes from elsewhere, such as a spread or an import, is shown where it is used.
 */
export async function locateSetting(text: string, path: readonly SettingStep[]): Promise<Span> {
  const body = (await createParser())(text)
  const call = findCall(body)
  if (!call) return [0, 1]
  let place: Node = call.callee
  let at: Node | undefined = call.arguments[0]
  for (const step of path) {
    const found: FoundNode | undefined = at ? descend(resolveName(at, body), step, body) : undefined
    if (!found) break
    place = found.place
    at = found.value
  }
  return [place.start, place.end]
}

/** The value of a name, where it is a constant of this file. */
function resolveName(node: Node, body: Body): Node {
  const inner = unwrap(node)
  return inner.type === 'Identifier' ? (constantOf(inner.name, body) ?? inner) : inner
}

interface FoundNode {
  /** The node that is pointed at. */
  readonly place: Node
  /** Where the next step goes on. */
  readonly value: Node
}

function descend(node: Node, step: SettingStep, body: Body): FoundNode | undefined {
  if (node.type === 'ObjectExpression') return inObject(node, String(step), body)
  if (node.type === 'ArrayExpression') {
    const item = typeof step === 'number' ? node.elements[step] : undefined
    return item ? { place: item, value: item } : undefined
  }
  return node.type === 'CallExpression' ? inFieldCall(node, String(step), body) : undefined
}

function inObject(node: ObjectNode, step: string, body: Body): FoundNode | undefined {
  let spread: FoundNode | undefined
  for (const property of node.properties) {
    if (property.type === 'SpreadElement') {
      const inside = descend(resolveName(property.argument, body), step, body)
      if (inside) spread = inside
      continue
    }
    const { key, value, method } = property
    if (nameOfKey(property) === step) return { place: key, value: method ? key : value }
  }
  return spread
}

/** In `list(item, options)` and `group(fields, options)` the first argument holds more fields. */
function inFieldCall(call: Call, step: string, body: Body): FoundNode | undefined {
  const [first] = call.arguments
  if (calleeOf(call) === 'list' && step === 'item' && first) return { place: first, value: first }
  for (const argument of [...call.arguments].reverse()) {
    const found = descend(resolveName(argument, body), step, body)
    if (found) return found
  }
  return undefined
}
