import type { ElementContent, Root, RootContent } from 'hast'

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

/**
 * Loads all languages; it takes a moment, so only what has colours should ask for it. Gives nothing where the package that
 * knows them is not installed.
 */
export async function loadHighlighter(): Promise<Highlighter | undefined> {
  const loaded = await import('lowlight').catch((error: { readonly code?: string }) => {
    if (error.code === 'ERR_MODULE_NOT_FOUND') return undefined
    throw error
  })
  if (!loaded) return undefined
  const { all, createLowlight } = loaded
  const lowlight = createLowlight(all)
  return {
    languages: lowlight.listLanguages(),
    knows: (language) => lowlight.registered(language),
    highlight(code, language, marked) {
      const isKnown = lowlight.registered(language)
      if (!isKnown && marked.size === 0) return undefined
      const tree: Root = isKnown
        ? lowlight.highlight(language, code, { prefix: 'code-' })
        : { type: 'root', children: [{ type: 'text', value: code }] }
      return marked.size === 0 ? (tree.children as ElementContent[]) : markLines(tree, marked)
    },
  }
}

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
    lines.at(-1)?.push(...(inner[0] ?? []))
    lines.push(...inner.slice(1))
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
