import type { Element, ElementContent, Root } from 'hast'
import type { Highlighter } from '../highlighter.ts'
import { readCodeInfo } from '../markdown/code-info.ts'
import type { PictureSource } from '../parsed-body.ts'
import { SOURCES } from './rewrite.ts'

/** Makes the HTML of MDX that of Markdown: code with its title and colours, boxes of tasks, notes, pictures. */
export function finishTree(tree: Root, highlighter: Highlighter | undefined): void {
  const walk = (parent: Root | Element): void => {
    for (const [at, node] of parent.children.entries()) {
      if (node.type !== 'element') {
        if ('children' in node) walk(node as unknown as Element)
        continue
      }
      if (node.tagName === 'pre') finishCode(node, highlighter)
      else if (node.tagName === 'ul' || node.tagName === 'li') finishTask(node)
      else if (node.tagName === 'section' && 'dataFootnotes' in node.properties) finishNotes(node)
      else if (node.tagName === 'a' && 'dataFootnoteRef' in node.properties) finishReference(node, parent)
      else if (node.tagName === 'a' && 'dataFootnoteBackref' in node.properties)
        parent.children[at] = backReference(node)
      else if (SOURCES in node.properties) parent.children[at] = createPicture(node)
      walk(node)
    }
  }
  walk(tree)
  const notes = tree.children.findIndex(
    (node) => node.type === 'element' && node.tagName === 'section' && isNotes(node),
  )
  if (notes !== -1) tree.children.splice(notes, 0, element('hr', { className: ['footnotes-sep'] }))
}

const element = (tagName: string, properties: Element['properties'], children: ElementContent[] = []): Element => ({
  type: 'element',
  tagName,
  properties,
  children,
})

function finishCode(pre: Element, highlighter: Highlighter | undefined): void {
  const [code] = pre.children
  if (code?.type !== 'element') return
  const [text] = code.children
  const name = (code.properties.className as readonly string[] | undefined)?.[0] ?? ''
  const language = name.replace(/^language-/, '')
  const { title, marked } = readCodeInfo(`${language} ${(code.data as { meta?: string } | undefined)?.meta ?? ''}`)
  if (title !== undefined) pre.properties.dataTitle = title
  if (marked.size > 0) pre.properties.dataMarked = [...marked].join(',')
  const coloured = text?.type === 'text' ? highlighter?.highlight(text.value, language, marked) : undefined
  if (coloured) code.children = coloured
}

/** An image with its sources in front. */
function createPicture(image: Element): Element {
  const { [SOURCES]: text, ...properties } = image.properties
  const sources = JSON.parse(String(text)) as readonly PictureSource[]
  const elements = sources.map(({ type, srcset, sizes }) =>
    element('source', { type, srcSet: srcset, ...(sizes === undefined ? {} : { sizes }) }),
  )
  return element('picture', {}, [...elements, { ...image, properties }])
}

function finishTask(node: Element): void {
  const names = node.properties.className as readonly string[] | undefined
  if (names?.some((name) => /task-list/.test(name))) delete node.properties.className
}

const isNotes = ({ properties }: Element): boolean =>
  (properties.className as readonly string[] | undefined)?.includes('footnotes') === true

function finishNotes(section: Element): void {
  section.properties = { className: ['footnotes'] }
  section.children = section.children.filter((node) => node.type === 'element' && node.tagName === 'ol')
  const list = section.children[0] as Element | undefined
  if (!list) return
  list.properties = { className: ['footnotes-list'] }
  let count = 0
  for (const item of list.children)
    if (item.type === 'element') item.properties = { id: `fn${++count}`, className: ['footnote-item'] }
}

/** `#fnref-2` and `#fnref-2-2` are the first and the second reference to the second note. */
function finishReference(link: Element, parent: Root | Element): void {
  const text = link.children[0]
  const number = text?.type === 'text' ? text.value : ''
  const again = /-(\d+)$/.exec(String(link.properties.id).replace(/^.*?fnref-[^-]+/, ''))?.[1]
  const suffix = again === undefined ? '' : `:${Number(again) - 1}`
  link.properties = { href: `#fn${number}`, id: `fnref${number}${suffix}` }
  link.children = [{ type: 'text', value: `[${number}${suffix}]` }]
  if (parent.type === 'element') parent.properties.className = ['footnote-ref']
}

function backReference(link: Element): Element {
  const [, number = '', again] = /(?<!\d)(\d+)(?:-(\d+))?$/.exec(String(link.properties.ariaLabel ?? '')) ?? []
  const suffix = again === undefined ? '' : `:${Number(again) - 1}`
  const text: ElementContent = { type: 'text', value: '\u21a9\uFE0E' }
  return element('a', { href: `#fnref${number}${suffix}`, className: ['footnote-backref'] }, [text])
}
