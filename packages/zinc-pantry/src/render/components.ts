import type { Element } from 'hast'

/** The properties of a component for images. */
export interface ImageProperties {
  readonly src: string
  readonly alt: string
  readonly title?: string
}

/** The properties of a component for links. */
export interface LinkProperties<Children> {
  readonly href: string
  readonly title?: string
  readonly children: Children
}

/** The properties of a component for fences of code. */
export interface CodeProperties<Children> {
  /** Empty where the fence names none. */
  readonly language: string
  readonly title?: string
  /** Numbers of the marked lines, from 1. */
  readonly marked: readonly number[]
  /** The element `code` with the text in it. */
  readonly children: Children
}

/** The properties of a component for tables: the parts of the table. */
export interface TableProperties<Children> {
  readonly children: Children
}

/** Components by the kind of node that they stand for. `Children` is what they are given to put inside. */
export interface NodeComponents<Component, Children> {
  readonly image?: Component | ((properties: ImageProperties) => Children)
  readonly link?: Component | ((properties: LinkProperties<Children>) => Children)
  readonly code?: Component | ((properties: CodeProperties<Children>) => Children)
  readonly table?: Component | ((properties: TableProperties<Children>) => Children)
}

/** The components of a site: for kinds of nodes, and for blocks by their names. */
export interface Components<Component, Children> extends NodeComponents<Component, Children> {
  /** Each is given the typed properties of its block, and `children`. */
  readonly blocks?: { readonly [block: string]: Component | ((properties: never) => Children) }
}

/** The component that an element wants, with what it is given beside its children. */
export interface Wanted {
  readonly kind: 'image' | 'link' | 'code' | 'table' | 'block'
  /** The name of the block. */
  readonly name: string
  readonly properties: Readonly<Record<string, unknown>>
}

/** Finds out whether an element can be a component. */
export function wantedBy({ tagName, properties, children }: Element): Wanted | undefined {
  if (typeof properties.dataBlock === 'string')
    return { kind: 'block', name: properties.dataBlock, properties: readProperties(properties.dataProperties) }
  if (tagName === 'img') return want('image', pick(properties, ['src', 'alt', 'title'], { src: '', alt: '' }))
  if (tagName === 'a' && properties.href !== undefined)
    return want('link', pick(properties, ['href', 'title'], { href: '' }))
  if (tagName === 'table') return want('table', {})
  const [code] = children
  if (tagName !== 'pre' || code?.type !== 'element' || code.tagName !== 'code') return undefined
  return want('code', codeProperties(properties, code.properties.className))
}

/** The properties of a fence of code, from the attributes of its elements. */
export function codeProperties(
  pre: Readonly<Record<string, unknown>>,
  className: unknown,
): Readonly<Record<string, unknown>> {
  const names = Array.isArray(className) ? className : String(className ?? '').split(' ')
  const language = names.find((name) => String(name).startsWith('language-'))
  const marked = pre.dataMarked ?? pre['data-marked']
  const title = pre.dataTitle ?? pre['data-title']
  return {
    language: language === undefined ? '' : String(language).slice('language-'.length),
    ...(title === undefined ? {} : { title }),
    marked: marked === undefined ? [] : String(marked).split(',').map(Number),
  }
}

const want = (kind: Wanted['kind'], properties: Wanted['properties']): Wanted => ({ kind, name: '', properties })

function pick(
  properties: Readonly<Record<string, unknown>>,
  names: readonly string[],
  otherwise: Readonly<Record<string, unknown>>,
): Readonly<Record<string, unknown>> {
  const written = names.filter((name) => properties[name] !== undefined && properties[name] !== null)
  return { ...otherwise, ...Object.fromEntries(written.map((name) => [name, properties[name]])) }
}

function readProperties(text: unknown): Readonly<Record<string, unknown>> {
  try {
    return Object(JSON.parse(String(text)))
  } catch {
    return {}
  }
}
