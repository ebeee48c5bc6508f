import type { Element, ElementContent } from 'hast'
import type { ImageSource } from '../query/index.ts'

/** The properties of a component for images. */
export interface ImageProperties {
  readonly src: string
  readonly alt: string
  readonly title?: string
  /** In pixels, of an image with sources. */
  readonly width?: number
  readonly height?: number
  /** What a build made of it, for elements `source` in a `picture`, where the setting `sources` of bodies asks for that. */
  readonly sources?: readonly ImageSource[]
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
  if (tagName === 'img') return want('image', imageProperties(properties))
  if (tagName === 'picture') return wantPicture(children)
  if (tagName === 'a' && properties.href !== undefined)
    return want('link', pick(properties, ['href', 'title'], { href: '' }))
  if (tagName === 'table') return want('table', {})
  const [code] = children
  if (tagName !== 'pre' || code?.type !== 'element' || code.tagName !== 'code') return undefined
  return want('code', codeProperties(properties, code.properties.className))
}

/** The properties of an image, from the attributes of its element. */
function imageProperties(attributes: Readonly<Record<string, unknown>>): Readonly<Record<string, unknown>> {
  return pick(attributes, ['src', 'alt', 'title'], { src: '', alt: '' })
}

/** An image and its sources as one; a `picture` that a writer made is more than that. */
function wantPicture(children: readonly ElementContent[]): Wanted | undefined {
  const elements = children.flatMap((child) => (child.type === 'element' ? [child] : []))
  const image = elements.at(-1)
  const sources = elements.slice(0, -1)
  const isOurs = sources.every(({ tagName, properties }) => tagName === 'source' && properties.media === undefined)
  if (image?.tagName !== 'img' || sources.length === 0 || !isOurs) return undefined
  return want(
    'image',
    pictureProperties(
      image.properties,
      sources.map(({ properties }) => properties),
    ),
  )
}

/** The properties of an image with sources, from the attributes of its elements. */
export function pictureProperties(
  image: Readonly<Record<string, unknown>>,
  sources: readonly Readonly<Record<string, unknown>>[],
): Readonly<Record<string, unknown>> {
  return {
    ...imageProperties(image),
    width: Number(image.width),
    height: Number(image.height),
    sources: sources.map(({ type, srcSet, sizes }) => ({
      type,
      srcset: Array.isArray(srcSet) ? srcSet.join(', ') : srcSet,
      ...(sizes === undefined ? {} : { sizes: Array.isArray(sizes) ? sizes.join(', ') : sizes }),
    })),
  }
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
