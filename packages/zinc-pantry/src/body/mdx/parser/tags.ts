import type { MdxJsxAttribute, MdxJsxExpressionAttribute } from 'mdast-util-mdx'
import { parseEntities } from 'parse-entities'
import { doubt } from '../doubt.ts'
import { readCode } from './javascript.ts'
import type { View } from './view.ts'

/** A tag of JSX. */
export interface Tag {
  /** Nothing for a fragment. */
  readonly name: string | null
  readonly attributes: (MdxJsxAttribute | MdxJsxExpressionAttribute)[]
  readonly isClosing: boolean
  readonly isSelfClosing: boolean
  readonly start: number
  readonly end: number
}

// Names with other letters are rare, and what counts as one is written down elsewhere.
const NAME = /[A-Za-z$_][\w$-]*/y
const SPACE = /[ \t\n]*/y

function match(pattern: RegExp, text: string, at: number): string {
  pattern.lastIndex = at
  return pattern.exec(text)?.[0] ?? ''
}

/** Reads a tag that begins at an offset; nothing where the sign is but text. */
export function readTag(view: View, start: number, limit: number): Tag | undefined {
  const { text } = view
  const first = start + 1 < limit ? text.charCodeAt(start + 1) : 0
  if (first === 32 || first === 10 || first === 9) return undefined
  let at = start + 1
  const skip = (): number => {
    at += match(SPACE, text, at).length
    if (at >= limit) doubt('a tag without an end')
    return text.charCodeAt(at)
  }
  const isClosing = skip() === 47
  if (isClosing) {
    at++
    skip()
  }
  const attributes: Tag['attributes'] = []
  const name = readName()
  let isSelfClosing = false
  for (let code = skip(); code !== 62; code = skip()) {
    if (code === 47) {
      at++
      isSelfClosing = true
      if (skip() !== 62) doubt('a slash in a tag')
    } else if (code === 123) attributes.push(readSpread())
    else attributes.push(readAttribute())
  }
  if (isClosing && (isSelfClosing || attributes.length > 0)) doubt('a closing tag with more')
  return { name, attributes, isClosing, isSelfClosing, start, end: at + 1 }

  function readName(): string | null {
    if (skip() === 62) return null
    let all = readWord()
    for (let code = skip(); code === 46 || code === 58; code = skip()) {
      // `a.b.c` and `a:b`, but not `a:b:c`, nor both.
      if (all.includes(':') || (code === 58 && all.includes('.'))) doubt('a name of many parts')
      at++
      skip()
      all += String.fromCharCode(code) + readWord()
    }
    return all
  }

  function readWord(): string {
    const word = match(NAME, text, at)
    at += word.length
    if (word === '' || at >= limit || !/[\s./:>{=]/.test(text[at] as string)) doubt('a name in a tag')
    return word
  }

  function readSpread(): MdxJsxExpressionAttribute {
    const from = at
    const { value, estree, end } = readCode(view, at, limit, 'spread')
    at = end
    return { type: 'mdxJsxExpressionAttribute', value, position: view.position(from, end), data: { estree } }
  }

  function readAttribute(): MdxJsxAttribute {
    const from = at
    let attributeName = readWord()
    let end = at
    if (skip() === 58) {
      at++
      skip()
      attributeName += `:${readWord()}`
      end = at
    }
    const attribute: MdxJsxAttribute = {
      type: 'mdxJsxAttribute',
      name: attributeName,
      value: null,
      position: view.position(from, end),
    }
    if (skip() !== 61) return attribute
    at++
    const code = skip()
    if (code === 34 || code === 39) attribute.value = readText(code)
    else if (code === 123) {
      const { value, estree, end: behind } = readCode(view, at, limit, 'attribute')
      at = behind
      attribute.value = { type: 'mdxJsxAttributeValueExpression', value, data: { estree } }
    } else doubt('a value of an attribute')
    attribute.position = view.position(from, at)
    return attribute
  }

  function readText(quote: number): string {
    const close = text.indexOf(String.fromCharCode(quote), at + 1)
    if (close === -1 || close >= limit) doubt('a value without an end')
    const written = view.slice(at + 1, close)
    at = close + 1
    // Spaces in front of a further line are none of the value.
    const value = written.includes('\n') ? written.replace(/\n[ \t]+/g, '\n') : written
    return value.includes('&') ? parseEntities(value, { nonTerminated: false }) : value
  }
}
