import type { ElementContent, Root, RootContent } from 'hast'
import { appendAll } from '../diagnostics/append-all.ts'
import { HIGHLIGHTED_LANGUAGES } from './highlighted-languages.ts'

/** Colours code: gives parts of text with the classes of `zinc-pantry/code.css`. */
export interface Highlighter {
  /** True for a language, by its name or another name of it. */
  knows(language: string): boolean
  /** The names of all languages. */
  readonly languages: readonly string[]
  /** The parts of a text, or undefined where the language is not known and no line is marked. */
  highlight(code: string, language: string, marked: ReadonlySet<number>): ElementContent[] | undefined
}

/** The package that knows the languages; sites without colours need not have it. */
export const HIGHLIGHTER_PACKAGE = 'lowlight'

/** What colours code, and its languages one by one. */
interface Colouring {
  createLowlight(): unknown
  grammarOf(language: string): unknown
}

type Lowlight = ReturnType<typeof import('lowlight')['createLowlight']>
type Grammar = Parameters<Lowlight['register']>[1]

/** A language, the other names of it, and the languages that may stand within its code. */
interface Language {
  readonly name: string
  readonly names: readonly string[]
  readonly inner: readonly string[]
}

/**
 * Makes what colours code. Each language is loaded with those that may stand within it when there is code of it. Gives nothing
 * where the package that knows them is not installed.
 */
export async function loadHighlighter(
  load: () => Promise<Colouring | undefined> = loadAll,
): Promise<Highlighter | undefined> {
  const colouring = await load()
  if (!colouring) return undefined
  const lowlight = colouring.createLowlight() as Lowlight
  const languages = readLanguages(HIGHLIGHTED_LANGUAGES)
  const byName = new Map(languages.flatMap((one) => one.names.map((name) => [name, one] as const)))
  for (const one of languages) byName.set(one.name, one)
  const find = (language: string): Language | undefined => byName.get(language.toLowerCase())
  const register = ({ name, inner }: Language): void => {
    if (lowlight.registered(name)) return
    lowlight.register(name, colouring.grammarOf(name) as NonNullable<Grammar>)
    for (const one of inner[0] === '*' ? languages : inner.flatMap((other) => find(other) ?? [])) register(one)
  }
  return {
    languages: languages.map(({ name }) => name),
    knows: (language) => find(language) !== undefined,
    highlight(code, language, marked) {
      const known = find(language)
      if (!known && marked.size === 0) return undefined
      if (known) register(known)
      const tree: Root = known
        ? lowlight.highlight(known.name, code, { prefix: 'code-' })
        : { type: 'root', children: [{ type: 'text', value: code }] }
      return marked.size === 0 ? (tree.children as ElementContent[]) : markLines(tree, marked)
    },
  }
}

/** The package with all its languages. */
async function loadAll(): Promise<Colouring | undefined> {
  const loaded = await import('lowlight').catch((error: { readonly code?: string }) => {
    if (error.code === 'ERR_MODULE_NOT_FOUND') return undefined
    throw error
  })
  return loaded && { createLowlight: () => loaded.createLowlight(), grammarOf: (language) => loaded.all[language] }
}

const readLanguages = (table: string): readonly Language[] =>
  table
    .trim()
    .split('\n')
    .map((line) => {
      const [own = '', inner] = line.split(' > ')
      const [name = '', ...names] = own.split(' ')
      return { name, names, inner: inner?.split(' ') ?? [] }
    })

/** Wraps marked lines into elements of their own. */
function markLines(tree: Root, marked: ReadonlySet<number>): ElementContent[] {
  const lines = splitLines(tree.children as ElementContent[])
  return lines.flatMap((line, index): ElementContent[] => {
    const content: ElementContent[] = index < lines.length - 1 ? [...line, { type: 'text', value: '\n' }] : line
    if (!marked.has(index + 1)) return content
    return [{ type: 'element', tagName: 'span', properties: { className: ['code-marked'] }, children: content }]
  })
}

/** The parts of each line; what goes over several lines is there on each. */
function splitLines(nodes: readonly (ElementContent | RootContent)[]): ElementContent[][] {
  const lines: ElementContent[][] = [[]]
  for (const node of nodes) {
    const inner: ElementContent[][] =
      node.type === 'text'
        ? node.value.split('\n').map((value) => (value === '' ? [] : [{ type: 'text', value }]))
        : node.type === 'element'
          ? splitLines(node.children).map((children) => [{ ...node, children }])
          : [[]]
    appendAll(lines.at(-1) ?? [], inner[0] ?? [])
    appendAll(lines, inner.slice(1))
  }
  return lines
}

/** The HTML of coloured code. */
export const codeToHtml = (nodes: readonly ElementContent[]): string =>
  nodes
    .map((node) => {
      if (node.type === 'text') return escapeText(node.value)
      if (node.type !== 'element') return ''
      const names = (node.properties.className as readonly string[] | undefined)?.join(' ') ?? ''
      return `<span class="${names}">${codeToHtml(node.children)}</span>`
    })
    .join('')

const escapeText = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')
