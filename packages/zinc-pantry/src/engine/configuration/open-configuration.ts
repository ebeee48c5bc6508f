import type { ConfigurationText, SyntaxPath, WrittenName } from '../../change/configuration-text.ts'
import type { Place } from '../../diagnostics/diagnostic.ts'
import {
  type Body,
  calleeOf,
  constantOf,
  createParser,
  findCall,
  membersIn,
  type Node,
  nameOfKey,
  type ObjectNode,
  unwrap,
} from './syntax.ts'

/** A file of a configuration. */
interface Module {
  readonly file: string
  readonly text: string
  readonly body: Body
}

/** A part of the syntax of a file. */
interface Part {
  readonly node: Node
  readonly module: Module
}

interface ObjectPart extends Part {
  readonly node: ObjectNode
}

/** Where a step of a path leads. */
interface Found {
  readonly value: Part
  /** The property of an object that was entered. */
  readonly property?: Extract<Node, { type: 'Property' }> & { readonly key: Node }
}

/** Names may lead to names; more than this no configuration has. */
const MAX_NAMES = 20

const ENDINGS = ['', '.ts', '.mts', '.js', '.mjs', '/index.ts', '/index.js']

/** Opens the text of a configuration; `read` gives those of files, relative to the root, where they are there. */
export async function openConfiguration(
  file: string,
  read: (file: string) => string | undefined,
): Promise<ConfigurationText> {
  const parse = await createParser()
  const modules = new Map<string, Module | undefined>()
  const open = (path: string): Module | undefined => {
    if (!modules.has(path)) {
      const text = read(path)
      modules.set(path, text === undefined ? undefined : { file: path, text, body: parse(text) })
    }
    return modules.get(path)
  }

  /** What a name of a file stands for, there or in a file that it is imported from. */
  const lookUp = (name: string, module: Module): Part | undefined => {
    const constant = constantOf(name, module.body)
    if (constant) return { node: constant, module }
    for (const statement of module.body) {
      if (statement.type !== 'ImportDeclaration' || !statement.source.value.startsWith('.')) continue
      const specifier = statement.specifiers.find(({ local }) => local.name === name)
      const from = specifier && openImported(statement.source.value, module)
      if (!from) continue
      if (specifier.type === 'ImportDefaultSpecifier') return defaultOf(from)
      const imported = specifier.type === 'ImportSpecifier' ? specifier.imported : undefined
      const other = imported?.type === 'Identifier' ? constantOf(imported.name, from.body) : undefined
      if (other) return { node: other, module: from }
    }
    return undefined
  }

  const openImported = (specifier: string, { file: importer }: Module): Module | undefined => {
    const path = new URL(specifier, `file:///${importer}`).pathname.slice(1)
    const paths = [...ENDINGS.map((ending) => path + ending), path.replace(/js$/, 'ts')]
    const found = paths.find((one) => /\.[mc]?[jt]s$/.test(one) && open(one))
    return found === undefined ? undefined : open(found)
  }

  const resolve = ({ node, module }: Part, count = 0): Part => {
    const inner = unwrap(node)
    const plain = { node: inner, module }
    if (count > MAX_NAMES) return plain
    if (inner.type === 'Identifier') {
      const other = lookUp(inner.name, module)
      return other ? resolve(other, count + 1) : plain
    }
    if (inner.type !== 'MemberExpression' || inner.computed || inner.property.type !== 'Identifier') return plain
    const other = descend({ node: inner.object, module }, inner.property.name, count + 1)
    return other ? resolve(other.value, count + 1) : plain
  }

  const descend = (from: Part, step: string | number, count = 0): Found | undefined => {
    const { node, module } = resolve(from, count)
    if (typeof step === 'string')
      return node.type === 'ObjectExpression' ? inObject({ node, module }, step, count) : undefined
    if (node.type === 'ArrayExpression') return asFound(node.elements[step], module)
    if (node.type !== 'CallExpression') return undefined
    // A field that was adapted is declared where it was before.
    const [first] = node.arguments
    if (calleeOf(node) === 'adapt' && first && count <= MAX_NAMES)
      return descend({ node: first, module }, step, count + 1)
    return asFound(node.arguments[step], module)
  }

  const inObject = ({ node, module }: ObjectPart, step: string, count: number): Found | undefined => {
    if (count > MAX_NAMES) return undefined
    let found: Found | undefined
    for (const property of node.properties) {
      if (property.type === 'SpreadElement')
        found = descend({ node: property.argument, module }, step, count + 1) ?? found
      else if (nameOfKey(property) === step) found = { value: { node: property.value, module }, property }
    }
    return found
  }

  const follow = (path: SyntaxPath): { readonly found: Found | undefined; readonly last: Part } => {
    const own = open(file)
    const call = own && findCall(own.body)
    const [first] = call?.arguments ?? []
    if (!own || !call || !first)
      return { found: undefined, last: { node: own?.body[0] as Node, module: own as Module } }
    let found: Found | undefined = { value: { node: first, module: own } }
    let last: Part = { node: call.callee, module: own }
    for (const step of path) {
      found = descend(found.value, step)
      if (!found) break
      last = found.property ? { node: found.property.key, module: found.value.module } : found.value
    }
    return { found, last }
  }

  const textsIn = (part: Part): readonly WrittenName[] => {
    const { node, module } = resolve(part)
    if (node.type === 'ArrayExpression')
      return node.elements.flatMap((element) => {
        if (!element) return []
        return textsIn({ node: element.type === 'SpreadElement' ? element.argument : element, module })
      })
    const text = writtenText(node, module)
    return text ? [text] : []
  }

  return {
    keyAt(path) {
      const { found } = follow(path)
      return found?.property && writtenKey(found.property, found.value.module)
    },
    keysAt(path) {
      const { found } = follow(path)
      if (!found) return []
      const { node, module } = resolve(found.value)
      if (node.type !== 'ObjectExpression') return []
      return node.properties.flatMap((one) => (one.type === 'Property' ? (writtenKey(one, module) ?? []) : []))
    },
    textsAt(path) {
      const { found } = follow(path)
      return found ? textsIn(found.value) : []
    },
    callAt(path) {
      const { found } = follow(path)
      if (!found) return undefined
      const node = unwrap(found.value.node)
      if (node.type !== 'CallExpression') return undefined
      const { file: own, text } = found.value.module
      const last = node.arguments.at(-1)
      const properties = last?.type === 'ObjectExpression' ? last.properties : []
      const options = properties.flatMap((one) => {
        const name = one.type === 'Property' ? nameOfKey(one) : undefined
        return name === undefined ? [] : [{ name, text: text.slice(one.start, one.end) }]
      })
      return { place: { file: own, span: [node.start, node.end] }, callee: calleeOf(node), options }
    },
    readsOf(key) {
      return [...modules.values()].flatMap((module) => {
        if (!module) return []
        return membersIn(module.body).flatMap(({ object, property }): Place[] => {
          const { node, module: holder } = resolve({ node: object, module })
          if (node.type !== 'ObjectExpression' || holder.file !== key.file) return []
          const isRead = node.properties.some(
            (one) => one.type === 'Property' && nameOfKey(one) === property.name && isAt(one.key, key),
          )
          return isRead ? [{ file: module.file, span: [property.start, property.end] }] : []
        })
      })
    },
    placeOf(path) {
      const { node, module } = follow(path).last
      return { file: module?.file ?? file, span: node ? [node.start, node.end] : [0, 1] }
    },
  }
}

const asFound = (node: Node | null | undefined, module: Module): Found | undefined =>
  node && node.type !== 'SpreadElement' ? { value: { node, module } } : undefined

/** True for a key that stands at a place, which is without its quotes. */
const isAt = ({ start }: Node, { span }: Place): boolean => start === span[0] || start + 1 === span[0]

/** What a file exports by default. */
function defaultOf(module: Module): Part | undefined {
  for (const statement of module.body)
    if (statement.type === 'ExportDefaultDeclaration') return { node: statement.declaration, module }
  return undefined
}

function writtenKey(property: Extract<Node, { type: 'Property' }>, { file }: Module): WrittenName | undefined {
  const text = nameOfKey(property)
  const { key, value, shorthand } = property
  const whole = [property.start, property.end] as const
  if (text === undefined) return undefined
  if (key.type === 'Identifier') {
    const constant = value.type === 'Identifier' && { name: value.name, span: [property.start, property.end] as const }
    const form = shorthand ? 'shorthand' : 'identifier'
    return { file, text, span: [key.start, key.end], form, whole, ...(constant && { constant }) }
  }
  return { file, text, span: [key.start + 1, key.end - 1], form: 'quoted', whole }
}

/** A text that is written as it is, without escapes. */
function writtenText(node: Node, { file, text: source }: Module): WrittenName | undefined {
  const isText = node.type === 'Literal' && typeof node.value === 'string'
  const isPlain = node.type === 'TemplateLiteral' && node.expressions.length === 0
  const span = [node.start + 1, node.end - 1] as const
  const text = source.slice(...span)
  if (!(isText && node.value === text) && !(isPlain && !text.includes('\\'))) return undefined
  return { file, text, span, form: 'quoted', whole: [node.start, node.end] }
}
