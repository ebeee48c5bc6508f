import MarkdownIt from 'markdown-it'
import type { BodyModel, NamedBodyPlugin } from '../../schema/body-settings.ts'
import { PluginFailure } from '../plugin-failure.ts'
import { addAutolinks } from './autolinks.ts'
import { addDirectives } from './directives.ts'
import { addFootnotes } from './footnotes.ts'
import { sparePlainTexts } from './plain-text.ts'
import { type Rule, rulesOf } from './rules.ts'
import { addStrikethrough } from './strikethrough.ts'
import { addTaskItems } from './task-items.ts'
import { addNote, type Token } from './token.ts'

/** The options of a parser of Markdown. */
export interface ParserOptions {
  /** Names of blocks that can be used as directives. */
  readonly blocks: readonly string[]
  /** Undefined gives no plugins, all extensions and raw HTML as it is written. */
  readonly settings: BodyModel | undefined
}

/** Makes a parser: CommonMark 0.31 with tables, strikethrough, task items, autolinks, footnotes and directives. */
export function createParser({ blocks, settings }: ParserOptions): MarkdownIt {
  const markdown = new MarkdownIt({ html: true, xhtmlOut: true })
  notePlaces(markdown)
  sparePlainTexts(markdown)
  if (settings?.extensions === false) markdown.disable(['table', 'strikethrough'])
  else {
    addFootnotes(markdown)
    addStrikethrough(markdown)
    addAutolinks(markdown)
    addTaskItems(markdown)
    if (blocks.length > 0 || settings?.components === 'any') addDirectives(markdown, blocks)
  }
  for (const plugin of settings?.markdownPlugins ?? []) addPlugin(markdown, plugin)
  return markdown
}

/** Adds a user's plugin. Whatever its rules throw later says which plugin it was, and at which line. */
function addPlugin(markdown: MarkdownIt, { name, plugin, options }: NamedBodyPlugin): void {
  const rulers = [markdown.core.ruler, markdown.block.ruler, markdown.inline.ruler, markdown.inline.ruler2]
  const known = new Set(rulers.flatMap(rulesOf).map(({ fn }) => fn))
  const renderers = { ...markdown.renderer.rules }
  const guard = (rule: Rule): Rule => {
    return function guarded(this: unknown, ...parameters) {
      try {
        return rule.apply(this, parameters)
      } catch (error) {
        throw error instanceof PluginFailure ? error : new PluginFailure(name, error, undefined, lineOf(parameters))
      }
    }
  }
  try {
    plugin(markdown, ...options)
  } catch (error) {
    throw new PluginFailure(name, error)
  }
  for (const rule of rulers.flatMap(rulesOf)) if (!known.has(rule.fn)) rule.fn = guard(rule.fn)
  // The compiled lists of rules are made anew when a rule is switched on.
  for (const ruler of rulers) ruler.enable([], true)
  for (const [type, rule] of Object.entries(markdown.renderer.rules))
    if (rule && rule !== renderers[type]) markdown.renderer.rules[type] = guard(rule as Rule) as typeof rule
}

/** The line at which a rule was called, from 0, where it says. */
function lineOf([state, second]: readonly unknown[]): number | undefined {
  if (Array.isArray(state) && typeof second === 'number')
    return (state as Token[]).slice(0, second + 1).findLast(({ map }) => map)?.map?.[0]
  if (typeof second === 'number') return second
  return (state as { env?: { line?: number } } | undefined)?.env?.line
}

const PLACED = new Set(['link_open', 'link_close', 'image', 'html_inline', 'block_open'])

/** Notes where in the content links and the like were found; the parser itself forgets it. */
function notePlaces(markdown: MarkdownIt): void {
  const State = markdown.inline.State
  markdown.inline.State = class extends State {
    override push(type: string, tag: string, nesting: -1 | 0 | 1): Token {
      const token = super.push(type, tag, nesting)
      if (PLACED.has(type)) addNote(token, { at: this.pos })
      return token
    }
  }
}
