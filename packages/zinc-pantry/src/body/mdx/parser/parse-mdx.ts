import type { Root } from 'mdast'
import { doubt, unlessInDoubt } from '../doubt.ts'
import { readBlocks } from './blocks.ts'
import { createDocument, finishTexts } from './document.ts'
import { View } from './view.ts'

/**
 * Reads a text of MDX, with tables and the like, to the very tree that the compiler's own parser makes of it, positions and
 * syntax trees of code included; nothing where it is not sure to, or where there is an error, which is then the compiler's to tell.
 *
 * It is sure of most of what people write, since most texts use few of the many ways to write one thing. Lines are read to blocks,
 * and when all definitions are known, the texts in them to what they hold. What is rare (tabs in front of a list, lines that go on
 * with a paragraph of a list without being indented, definitions of many lines) is not read at all.
 */
export function parseMdx(text: string, onDoubt?: (reason: string) => void): Root | undefined {
  return unlessInDoubt(() => {
    if (text === '' || /[\0\uFEFF]/.test(text)) doubt('signs that are none of a text')
    if (/\r(?!\n)/.test(text)) doubt('lines that end in an old way')
    const view = View.of(text)
    const document = createDocument(readBlocks)
    const { children } = document.readBlocks(view, { isTop: true })
    finishTexts(document)
    return { type: 'root', children, position: view.position(0, view.text.length) }
  }, onDoubt)
}
