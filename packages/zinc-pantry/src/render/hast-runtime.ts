import type { Element, ElementContent } from 'hast'

type Child = ElementContent | string | number | boolean | null | undefined | readonly Child[]
type Component = (properties: Readonly<Record<string, unknown>>) => Child

/** Stands for children without an element around them. */
const Fragment = Symbol('fragment')

/** Makes nodes of what JSX has between tags. */
function toNodes(child: Child): ElementContent[] {
  if (Array.isArray(child)) return child.flatMap(toNodes)
  if (child === null || child === undefined || typeof child === 'boolean') return []
  if (typeof child === 'string' || typeof child === 'number') return [{ type: 'text', value: String(child) }]
  return [child as ElementContent]
}

/** Makes a node, or calls a component. */
function jsx(type: string | typeof Fragment | Component, properties: Readonly<Record<string, unknown>>): Child {
  if (typeof type === 'function') return type(properties)
  const { children, ...rest } = properties
  const nodes = toNodes(children as Child)
  if (type === Fragment) return nodes
  return { type: 'element', tagName: type as string, properties: toAttributes(rest), children: nodes }
}

function toAttributes(properties: Readonly<Record<string, unknown>>): Element['properties'] {
  const attributes: Element['properties'] = {}
  for (const [name, value] of Object.entries(properties)) {
    if (name === 'key' || name === 'ref' || typeof value === 'function') continue
    attributes[name] = name === 'style' && typeof value === 'object' ? toStyle(value) : (value as string)
  }
  return attributes
}

const toStyle = (style: object | null): string =>
  Object.entries(style ?? {})
    .map(([name, value]) => `${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)}: ${value}`)
    .join('; ')

/** A JSX runtime that makes a tree in the open hast form. */
export const hastRuntime = { Fragment, jsx, jsxs: jsx, jsxDEV: jsx, toNodes }
