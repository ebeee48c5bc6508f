import type MarkdownIt from 'markdown-it'
import type { RawHtml } from '../../schema/body-settings.ts'
import { codeToHtml } from '../highlighter.ts'
import { rewriteHtml } from '../html-addresses.ts'
import type { OutputOptions, PictureSource, Rewrite } from '../parsed-body.ts'
import { disarmRaw } from '../sanitise.ts'
import { readCodeInfo } from './code-info.ts'
import { noteOf, type Token } from './token.ts'

/** The options of rendering, which travel in the parser's environment. */
export interface RenderEnvironment {
  output?: OutputOptions
  /** How many blocks were opened so far. */
  opened?: number
  rawHtml?: RawHtml
}

/** What an image carries to where it is rendered. */
interface PictureMeta {
  readonly sources?: readonly PictureSource[]
}

const ALIGNMENT = /^text-align:(\w+)$/

/** Sets the rules that render what is ours: code with a title, blocks, addresses. */
export function addRenderRules(markdown: MarkdownIt): void {
  const { rules } = markdown.renderer
  const { escapeHtml } = markdown.utils
  rules.block_open = (tokens, position, _options, environment: RenderEnvironment) => {
    const token = tokens[position] as Token
    const number = environment.opened ?? 0
    environment.opened = number + 1
    const properties = environment.output?.properties[number]?.values ?? {}
    const { name } = noteOf(token).use ?? { name: '' }
    return `<${token.tag} data-block="${escapeHtml(name)}" data-properties="${escapeHtml(JSON.stringify(properties))}">${token.block ? '\n' : ''}`
  }
  rules.block_close = (tokens, position) => `</${tokens[position]?.tag}>${tokens[position]?.block ? '\n' : ''}`
  // An empty quotation has a line of its own in the examples of CommonMark.
  rules.blockquote_open = (tokens, position, options, _environment, self) =>
    `${self.renderToken(tokens, position, options).trimEnd()}\n`
  // The extension spec aligns cells by an attribute.
  for (const name of ['th_open', 'td_open'])
    rules[name] = (tokens, position, options, _environment, self) => {
      const { tag, attrs } = tokens[position] as Token
      const [[attribute = '', value = ''] = []] = attrs ?? []
      // Many texts are mostly cells, and nearly all have this attribute alone, or none.
      const alignment = attrs?.length === 1 && attribute === 'style' ? ALIGNMENT.exec(value)?.[1] : undefined
      if (alignment !== undefined) return `<${tag} align="${alignment}">`
      return self.renderToken(tokens, position, options).replace(/ style="text-align:(\w+)"/, ' align="$1"')
    }
  for (const name of ['html_block', 'html_inline'])
    rules[name] = (tokens, position, _options, { rawHtml }: RenderEnvironment) => {
      const html = tokens[position]?.content ?? ''
      return rawHtml === 'drop' ? '' : rawHtml === 'sanitise' ? disarmRaw(html) : html
    }
  const image = rules.image
  rules.image = (tokens, position, options, environment, self) => {
    const html = image?.(tokens, position, options, environment, self) ?? ''
    const sources = (tokens[position]?.meta as PictureMeta | null)?.sources
    if (!sources) return html
    const elements = sources.map((source) => {
      const attributes = Object.entries(source).map(([name, value]) => ` ${name}="${escapeHtml(String(value))}"`)
      return `<source${attributes.join('')}${options.xhtmlOut ? ' /' : ''}>`
    })
    return `<picture>${elements.join('')}${html}</picture>`
  }
  const fence = rules.fence
  rules.fence = (tokens, position, options, environment: RenderEnvironment, self) => {
    const token = tokens[position] as Token
    const { language, title, marked } = readCodeInfo(markdown.utils.unescapeAll(token.info))
    const coloured = environment.output?.highlighter?.highlight(token.content, language, marked)
    const inner = coloured && codeToHtml(coloured)
    if (inner === undefined && title === undefined && marked.size === 0)
      return fence?.(tokens, position, options, environment, self) ?? ''
    const attributes = [
      title === undefined ? '' : ` data-title="${escapeHtml(title)}"`,
      marked.size === 0 ? '' : ` data-marked="${[...marked].join(',')}"`,
    ]
    const name = language === '' ? '' : ` class="language-${escapeHtml(language)}"`
    return `<pre${attributes.join('')}><code${name}>${inner ?? escapeHtml(token.content)}</code></pre>\n`
  }
}

/** Puts other addresses into tokens that are rendered once and then let go. */
export function rewriteAddresses(tokens: readonly Token[], rewrite: Rewrite): void {
  for (const token of tokens) {
    // Every token of a site is asked: a look into an object by its type would take twice as long.
    const { type, children } = token
    if (type === 'link_open') token.attrSet('href', rewrite(token.attrGet('href') ?? ''))
    else if (type === 'image') {
      addPicture(token, rewrite)
      token.attrSet('src', rewrite(token.attrGet('src') ?? ''))
    } else if (type === 'html_block' || type === 'html_inline') token.content = rewriteHtml(token.content, rewrite)
    if (children) rewriteAddresses(children, rewrite)
  }
}

/** Gives an image its size, and the sources that are made of it. */
function addPicture(token: Token, rewrite: Rewrite): void {
  const picture = rewrite.picture?.(token.attrGet('src') ?? '')
  if (!picture) return
  token.attrSet('width', String(picture.width))
  token.attrSet('height', String(picture.height))
  token.meta = { ...token.meta, sources: picture.sources }
}
