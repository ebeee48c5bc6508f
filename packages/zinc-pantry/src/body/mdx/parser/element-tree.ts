import type { MdxJsxFlowElement, MdxJsxTextElement } from 'mdast-util-mdx'
import { doubt } from '../doubt.ts'
import type { Tag } from './tags.ts'
import type { View } from './view.ts'

type Element = MdxJsxFlowElement | MdxJsxTextElement

/** Puts nodes into elements as the tags between them say. */
export class ElementTree<Content> {
  readonly #view: View
  readonly #type: Element['type']
  readonly #open: Element[] = []
  readonly #top: Content[] = []
  /** What is in the element that is open, to which the next node belongs. */
  children = this.#top

  constructor(view: View, type: Element['type']) {
    this.#view = view
    this.#type = type
  }

  place({ name, attributes, isClosing, isSelfClosing, start, end }: Tag): void {
    if (isClosing) {
      const closed = this.#open.pop()
      if (!closed?.position || closed.name !== name) doubt('a closing tag of something else')
      closed.position.end = this.#view.point(end)
      this.children = (this.#open.at(-1)?.children as Content[] | undefined) ?? this.#top
      return
    }
    const position = this.#view.position(start, end)
    const element = { type: this.#type, name, attributes, children: [], position } as Element
    this.children.push(element as Content)
    if (isSelfClosing) return
    this.#open.push(element)
    this.children = element.children as Content[]
  }

  /** All nodes, each element having been closed. */
  finish(): Content[] {
    if (this.#open.length > 0) doubt('an element without an end')
    return this.#top
  }
}
