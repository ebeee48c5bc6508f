import type { Heading, Root } from 'mdast'
import { createHeadingIds } from '../heading-ids.ts'
import { type Node, textOf, visit } from './visit.ts'

/** An expression in braces, `{#here}` being none that code can read. */
export const WRITTEN_ID = /(?<![ \t])[ \t]*\\?\{#([A-Za-z][\w.:-]*)\\?\}[ \t]*$/

/** Gives headings their ids; those that have one keep it. */
export function addHeadingIds(tree: Root, makeOwn?: (text: string) => string): void {
  const makeId = createHeadingIds(makeOwn)
  visit(tree, (node) => {
    if (node.type !== 'heading') return
    const known = idOf(node)
    const written = known ?? takeWrittenId(node)
    const id = makeId(textOf(node), written)
    node.data = { ...node.data, hProperties: { ...node.data?.hProperties, id } }
  })
}

/** The id of a heading. */
export const idOf = (node: Heading): string | undefined => node.data?.hProperties?.id as string | undefined

/** An id that is written at the end, with the brace escaped as MDX wants it: `## Title \{#here}`. */
function takeWrittenId(heading: Heading): string | undefined {
  const last = heading.children.at(-1) as Node | undefined
  const found = last?.type === 'text' ? WRITTEN_ID.exec(last.value) : null
  if (!found || last?.type !== 'text') return undefined
  last.value = last.value.slice(0, found.index)
  return found[1]
}
