import { Parser } from 'acorn'
import acornJsx from 'acorn-jsx'
import type { Program } from 'estree'
import { eventsToAcorn } from 'micromark-util-events-to-acorn'
import { doubt } from '../doubt.ts'
import { skipSpaces, type View } from './view.ts'

const acorn = Parser.extend(acornJsx())
const OPTIONS = { ecmaVersion: 2024, sourceType: 'module' } as const
const PLACED_OPTIONS = { ...OPTIONS, locations: true } as const

type Events = Parameters<typeof eventsToAcorn>[0]

/** How code is read: as an expression, as the inner part of `{...here}`, or as statements. */
export type CodeKind = 'expression' | 'attribute' | 'spread'

/** Code between braces, with its syntax tree. */
export interface Code {
  readonly value: string
  readonly estree: Program
  /** Behind the closing brace. */
  readonly end: number
}

/**
 * Reads code from an opening brace on. The closing brace is the one that is not within text or other braces; where the code up to
 * there can be read, no earlier brace could have been the end, since it would stand in the middle of a text or of braces.
 */
export function readCode(view: View, start: number, limit: number, kind: CodeKind): Code {
  const close = findBrace(view.text, start + 1, limit)
  if (close === -1) doubt('an expression without an end')
  const { events, value } = collectLines(view, start + 1, close, 2)
  const result = parse(events, view, start + 1, {
    expression: true,
    allowEmpty: kind === 'expression',
    prefix: kind === 'spread' ? '({' : '',
    suffix: kind === 'spread' ? '})' : '',
  })
  if (result.error || !result.estree) doubt('code that cannot be read')
  const estree = result.estree as Program
  if (kind === 'spread') assertSpread(estree)
  return { value, estree, end: close + 1 }
}

/** Statements that import and export, with the names that are imported. */
export interface Statements {
  readonly value: string
  readonly estree: Program
  readonly names: readonly string[]
}

/** Reads statements; nothing where they go on behind their end. */
export function readStatements(
  view: View,
  start: number,
  end: number,
  known: readonly string[],
): Statements | undefined {
  const { events, value } = collectLines(view, start, end, 0)
  const result = parse(events, view, start, { prefix: known.length > 0 ? `var ${known.join(',')}\n` : '' })
  if (result.error || !result.estree) return result.swallow ? undefined : doubt('statements that cannot be read')
  const estree = result.estree as Program
  if (known.length > 0) estree.body.shift()
  if (!estree.body.every(({ type }) => /^(?:Export|Import)/.test(type))) doubt('other statements')
  const names = estree.body.flatMap((one) =>
    one.type === 'ImportDeclaration' ? one.specifiers.map(({ local }) => local.name) : [],
  )
  return { value, estree, names }
}

function parse(
  events: Events,
  view: View,
  start: number,
  options: { expression?: boolean; allowEmpty?: boolean; prefix?: string; suffix?: string },
): ReturnType<typeof eventsToAcorn> {
  try {
    const acornOptions = options.expression ? OPTIONS : PLACED_OPTIONS
    return eventsToAcorn(events, {
      acorn: acorn as never,
      acornOptions: acornOptions as never,
      tokenTypes: ['data'],
      start: view.point(start) as never,
      ...options,
    })
  } catch {
    return doubt('code that is refused')
  }
}

/** The lines of a piece of code as the compiler's own tokens; of all but the first, spaces in front are left out up to a number. */
function collectLines(view: View, start: number, end: number, stripped: number): { events: Events; value: string } {
  const events: unknown[] = []
  let value = ''
  const add = (type: string, from: number, to: number): void => {
    const text = view.slice(from, to)
    value += text
    events.push(['enter', { type, start: view.point(from), end: view.endPoint(to) }, { sliceStream: () => [text] }])
  }
  const last = view.lineAt(end)
  for (let at = view.lineAt(start); at <= last; at++) {
    const line = view.line(at)
    const from =
      line.start <= start ? start : skipSpaces(view.text, line.start, Math.min(line.start + stripped, line.end))
    const to = Math.min(line.end, end)
    if (line.start > start && view.text.charCodeAt(from) === 9) doubt('a tab in front of code')
    if (to > from) add('data', from, to)
    if (to < end) add('lineEnding', to, to + 1)
  }
  return { events: events as Events, value }
}

function assertSpread(estree: Program): void {
  const [head] = estree.body
  const isFine =
    head?.type === 'ExpressionStatement' &&
    head.expression.type === 'ObjectExpression' &&
    head.expression.properties.length === 1 &&
    head.expression.properties[0]?.type === 'SpreadElement'
  if (!isFine) doubt('braces without a spread')
}

/** The brace that closes one in front; -1 where there is none. Texts and comments are passed over. */
function findBrace(text: string, start: number, limit: number): number {
  // For each template that is open, the depth of braces at its `${`.
  const templates: number[] = []
  let depth = 0
  for (let at = start; at < limit; at++) {
    const code = text.charCodeAt(at)
    if (code === 123) depth++
    else if (code === 125) {
      if (templates.at(-1) === depth) at = passTemplate(text, at + 1, limit, () => templates.pop())
      else if (depth-- === 0) return at
    } else if (code === 34 || code === 39) at = passString(text, at, limit)
    else if (code === 96) {
      templates.push(depth)
      at = passTemplate(text, at + 1, limit, () => templates.pop())
    } else if (code === 47) at = passComment(text, at, limit)
  }
  return -1
}

/** From within a template to its end, for which `onEnd` is called, or to the brace of the next value in it. */
function passTemplate(text: string, start: number, limit: number, onEnd: () => void): number {
  for (let at = start; at < limit; at++) {
    const code = text.charCodeAt(at)
    if (code === 92) at++
    else if (code === 96) {
      onEnd()
      return at
    } else if (code === 36 && text.charCodeAt(at + 1) === 123) return at + 1
  }
  return limit
}

/** To the quote that closes one; where a line has no other, it is one of the letters of a text in JSX. */
function passString(text: string, start: number, limit: number): number {
  const quote = text.charCodeAt(start)
  for (let at = start + 1; at < limit; at++) {
    const code = text.charCodeAt(at)
    if (code === 92) at++
    else if (code === quote) return at
    else if (code === 10) break
  }
  return start
}

function passComment(text: string, start: number, limit: number): number {
  const next = text.charCodeAt(start + 1)
  const found = next === 47 ? text.indexOf('\n', start) : next === 42 ? text.indexOf('*/', start + 2) : start
  return found === -1 ? limit : next === 42 ? found + 1 : found
}
