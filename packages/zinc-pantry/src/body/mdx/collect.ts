import type { Literal } from 'estree'
import { appendAll } from '../../diagnostics/append-all.ts'
import type { Span } from '../../diagnostics/diagnostic.ts'
import type { LinkExcerpt, WrittenFacts } from '../../schema/body-facts.ts'
import type { BodyHeading, BodyLink, CodeFence } from '../body-summary.ts'
import { spansInValue } from '../html-addresses.ts'
import { countWords, createFacts, cutExcerpt, NO_EXCERPT } from '../text-facts.ts'
import { idOf, WRITTEN_ID } from './heading-ids.ts'
import {
  definitionsOf,
  isJsx,
  type JsxElement,
  linkAttributes,
  type Node,
  type Nodes,
  spanOf,
  type TextAttribute,
  textOf,
  visit,
} from './visit.ts'

/** The ids that fragments may name: those of headings, and of elements with an id of their own. */
export function idsOf(nodes: Nodes | undefined): string[] {
  const ids: string[] = []
  visit(nodes, (node) => {
    const id =
      node.type === 'heading' ? idOf(node) : isJsx(node) ? (literal(node, 'id') ?? literal(node, 'name')) : undefined
    if (id !== undefined) ids.push(id)
  })
  return ids
}

/** The headings of a text, with the places of what is written in them, an id behind it left out. */
export function findHeadings(nodes: Nodes, text: string): BodyHeading[] {
  const headings: BodyHeading[] = []
  visit(nodes, (node) => {
    const [first, last] = node.type === 'heading' ? [node.children[0], node.children.at(-1)] : []
    if (node.type !== 'heading' || !first || !last) return
    const [start, end] = [spanOf(first)[0], spanOf(last)[1]]
    const written = text.slice(start, end).replace(WRITTEN_ID, '')
    headings.push({ depth: node.depth, id: idOf(node) ?? '', text: written, span: [start, start + written.length] })
  })
  return headings
}

/** The value of an attribute that is plain text. */
function literal(element: JsxElement, name: string): string | undefined {
  const found = element.attributes.find((one) => one.type === 'mdxJsxAttribute' && one.name === name)
  return typeof found?.value === 'string' ? found.value : undefined
}

/** A link, or what is shown in its place. */
export interface FoundLink extends BodyLink {
  readonly isImage: boolean
}

/** Links and images, also those written as HTML, with the spans of their addresses. */
export function findLinks(nodes: Nodes | undefined, text: string): FoundLink[] {
  const links: FoundLink[] = []
  const definitions = definitionsOf(nodes)
  visit(nodes, (node) => {
    if (node.type === 'link' || node.type === 'image') {
      const [start, end] = spanOf(node)
      const last = node.type === 'link' ? node.children.at(-1) : undefined
      const from = last ? spanOf(last)[1] : start + 2 + (node.type === 'image' ? (node.alt ?? '').length : 0)
      links.push({ href: node.url, span: addressSpan(text, { start, from, end }), isImage: node.type === 'image' })
    } else if (node.type === 'linkReference' || node.type === 'imageReference') {
      const href = definitions.get(node.identifier)
      if (href !== undefined) links.push({ href, span: spanOf(node), isImage: node.type === 'imageReference' })
    } else if (isJsx(node))
      appendAll(
        links,
        linkAttributes(node).flatMap((attribute) => linksInAttribute(attribute, text)),
      )
  })
  return links
}

/** The links in the value of an attribute; what is written between its quotes is another text where it has character references. */
function linksInAttribute(attribute: TextAttribute, text: string): FoundLink[] {
  const { name, value } = attribute
  const [start, end] = spanOf(attribute)
  const first = start + text.slice(start, end).search(/["']/) + 1
  const written = spansInValue(name, text.slice(first, end - 1))
  return spansInValue(name, value).map(([from, to], at) => {
    const [before, behind] = written[at] ?? [0, end - 1 - first]
    return { href: value.slice(from, to), span: [first + before, first + behind], isImage: name !== 'href' }
  })
}

/** The specifiers that the code of a text imports, or exports from. */
export function findImports(nodes: Nodes | undefined): BodyLink[] {
  const found: BodyLink[] = []
  visit(nodes, (node) => {
    if (node.type !== 'mdxjsEsm') return
    for (const statement of node.data?.estree?.body ?? []) {
      const source = 'source' in statement ? (statement.source as Literal & { start: number; end: number }) : undefined
      if (typeof source?.value === 'string')
        found.push({ href: source.value, span: [source.start + 1, source.end - 1] })
    }
  })
  return found
}

/** Where pictures without an alternative text stand. */
export function findSilentImages(nodes: Nodes | undefined): Span[] {
  const found: Span[] = []
  visit(nodes, (node) => {
    const isSilent =
      node.type === 'image' || node.type === 'imageReference'
        ? (node.alt ?? '').trim() === ''
        : isJsx(node) &&
          node.name === 'img' &&
          !node.attributes.some((one) => one.type !== 'mdxJsxAttribute' || one.name === 'alt')
    if (isSilent) found.push(spanOf(node))
  })
  return found
}

/** The address behind the label of a link, or the whole link where none is written as such. */
function addressSpan(
  text: string,
  { start, from, end }: { start: number; from: number; end: number },
): [number, number] {
  const rest = text.slice(from, end)
  const found = /\]\([^\S\r\n]*(?:[\r\n][\s>]*)?(?:<([^<>\n]*)>|((?:[^\s()]|\([^\s()]*\))+))/.exec(rest)
  if (!found) return [start, end]
  const address = found[1] ?? found[2] ?? ''
  const first = from + found.index + found[0].length - address.length - (found[1] === undefined ? 0 : 1)
  return [first, first + address.length]
}

/** Fences of code with a language. */
export function findFences(nodes: Nodes | undefined, text: string): CodeFence[] {
  const fences: CodeFence[] = []
  visit(nodes, (node) => {
    if (node.type !== 'code' || !node.lang) return
    const [start] = spanOf(node)
    const at = Math.max(start, text.indexOf(node.lang, start))
    fences.push({ language: node.lang, span: [at, at + node.lang.length] })
  })
  return fences
}

/** A mark behind the excerpt: {@literal `{/* more *}`} on a line of its own. */
const isMore = (node: Node): boolean =>
  node.type === 'mdxFlowExpression' && /^\s*\/\*\s*more\s*\*\/\s*$/.test(node.value)

/** The facts of a tree, some of which its links are. */
export function describeTree(
  nodes: Nodes,
  found: readonly FoundLink[],
  { blocks, hasExcerpts }: { readonly blocks: readonly string[]; readonly hasExcerpts: boolean },
): WrittenFacts {
  const headings: { id: string; text: string; depth: number }[] = []
  const images: WrittenFacts['images'][number][] = []
  const paragraphs: string[] = []
  const definitions = definitionsOf(nodes)
  let marked: number | undefined
  let words = 0
  visit(nodes, (node) => {
    if (node.type === 'heading' || node.type === 'paragraph' || node.type === 'tableCell') {
      const text = textOf(node)
      words += countWords(text)
      if (node.type === 'heading') headings.push({ id: idOf(node) ?? '', text: text.trim(), depth: node.depth })
      if (node.type === 'paragraph') paragraphs.push(text.trim())
    }
    if (node.type === 'image') images.push({ src: node.url, alt: node.alt ?? '' })
    if (node.type === 'imageReference')
      images.push({ src: definitions.get(node.identifier) ?? '', alt: node.alt ?? '' })
    if (isJsx(node) && node.name === 'img') {
      const src = literal(node, 'src')
      if (src !== undefined) images.push({ src, alt: literal(node, 'alt') ?? '' })
    }
    if (isMore(node)) marked ??= paragraphs.length
  })
  const excerpts = found.length === 0 || !hasExcerpts ? NO_EXCERPTS : excerptsOf(nodes, definitions)
  const links = new Map<string, LinkExcerpt>()
  for (const { href, isImage } of found)
    if (!isImage && !links.has(href)) links.set(href, excerpts.get(href) ?? NO_EXCERPT)
  return createFacts({ headings, links, hasExcerpts, images, blocks, paragraphs, marked, words })
}

const NO_EXCERPTS: ReadonlyMap<string, LinkExcerpt> = new Map()

/** The text around the first link to each address, in the paragraph, heading or cell in which it stands. */
function excerptsOf(nodes: Nodes, definitions: ReadonlyMap<string, string>): ReadonlyMap<string, LinkExcerpt> {
  const excerpts = new Map<string, LinkExcerpt>()
  visit(nodes, (block) => {
    if (block.type !== 'heading' && block.type !== 'paragraph' && block.type !== 'tableCell') return
    const found: { readonly href: string; readonly start: number; readonly end: number }[] = []
    let length = 0
    const walk = (node: Node): void => {
      const start = length
      if (!('children' in node)) length += textOf(node).length
      else for (const child of node.children as readonly Node[]) walk(child)
      const href = addressOf(node, definitions)
      if (href !== undefined) found.push({ href, start, end: length })
    }
    walk(block)
    const text = found.length === 0 ? '' : textOf(block)
    for (const { href, start, end } of found) if (!excerpts.has(href)) excerpts.set(href, cutExcerpt(text, start, end))
  })
  return excerpts
}

/** Where a link leads, in whatever way it is written. */
function addressOf(node: Node, definitions: ReadonlyMap<string, string>): string | undefined {
  if (node.type === 'link') return node.url
  if (node.type === 'linkReference') return definitions.get(node.identifier)
  return isJsx(node) && node.name === 'a' ? literal(node, 'href') : undefined
}

/** The plain text of a tree, a line for each paragraph, heading, cell and piece of code. */
export function textOfTree(nodes: Nodes | undefined): string {
  const lines: string[] = []
  visit(nodes, (node) => {
    if (node.type === 'heading' || node.type === 'paragraph' || node.type === 'tableCell')
      lines.push(textOf(node).trim())
    if (node.type === 'code') lines.push(node.value.trim())
  })
  return lines.join('\n')
}
