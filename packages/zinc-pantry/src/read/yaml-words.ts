import type { Span } from '../diagnostics/diagnostic.ts'

/** A fault of a YAML text in plain words, and the line as it should be, where that is known. */
export interface YamlWords {
  readonly reason: string
  readonly corrected?: string | undefined
}

/** Says in plain words what a parser says in its own, of an error at an offset. */
export function explainYaml(message: string, text: string, offset: number): YamlWords {
  const line = lineAt(text, offset)
  const quoted = quoteValue(line)
  const sign = text.charAt(offset)
  if (/at node end/.test(message)) return explainRest(line, offset - line.start)
  if (/flow-(?:seq|map)-end/.test(message)) return { reason: `Bracket ${sign} closes nothing` }
  if (/Not a YAML token|Block scalar header/.test(message))
    return { reason: 'Text behind | or > must stand in the lines below, indented' }
  if (/directives-end marker/.test(message)) return { reason: 'Nothing may stand behind --- in its line' }
  if (/Invalid escape sequence (\S+)/.test(message)) {
    const [, written] = /Invalid escape sequence (\S+)/.exec(message) ?? []
    return { reason: `There is no escape ${written} within double quotes`, corrected: inSingleQuotes(line) }
  }
  if (/block-seq-ind on same line/.test(message))
    return {
      reason: 'A list starts in the line below its key; text that starts with - must be quoted',
      corrected: quoted,
    }
  if (/Alias cannot be|Anchor cannot be/.test(message))
    return { reason: `Text that starts with ${sign} must be quoted`, corrected: quoted }
  const plain = message
    .replace(/\s+/g, ' ')
    .replace(/\b(?:flow|block|seq|map|doc|explicit|anchor|alias|tag)-[a-z-]+\b/g, (token) => TOKENS[token] ?? 'sign')
  return { reason: plain.slice(0, 100) }
}

/** Signs by what a parser calls them. */
const TOKENS: Readonly<Record<string, string>> = {
  'flow-seq-start': '[',
  'flow-seq-end': ']',
  'flow-map-start': '{',
  'flow-map-end': '}',
  'block-seq-ind': '-',
  'explicit-key-ind': '?',
  'map-value-ind': ':',
  'flow-error-end': 'end',
  'doc-start': '---',
  'doc-end': '...',
}

/** A text that must be quoted as a whole, and how that is written. */
export const mustBeQuoted = (reason: string, text: string, offset: number): YamlWords => ({
  reason,
  corrected: quoteValue(lineAt(text, offset)),
})

/** The fault of a line that should be `name: value` and is not. */
export function explainNoPair(text: string, offset: number): YamlWords {
  const { text: line } = lineAt(text, offset)
  const [, name, value] = /^([\w$-]+):(\S.*)$/.exec(line.trim()) ?? []
  if (name !== undefined && value !== undefined && !value.startsWith('//'))
    return { reason: 'A space must stand behind the colon', corrected: `${name}: ${value}` }
  if (/^\s*- /.test(line)) return { reason: 'This item is in no list: the key above it has a value already' }
  return { reason: 'Expected "name: value" here' }
}

interface Line {
  readonly text: string
  readonly start: number
}

function lineAt(text: string, offset: number): Line {
  const start = Math.max(text.lastIndexOf('\n', offset - 1), text.lastIndexOf('\r', offset - 1)) + 1
  return { text: /[^\r\n]*/.exec(text.slice(start))?.[0] ?? '', start }
}

/** The text behind a whole value. */
function explainRest(line: Line, column: number): YamlWords {
  const before = line.text.slice(0, column).trimEnd()
  if (/[\]}]$/.test(before))
    return {
      reason: 'Text behind a closing bracket: a text that starts with a bracket must be quoted',
      corrected: quoteValue(line),
    }
  return { reason: 'This stands in the column of the lines above, but goes on with none of them' }
}

/** What stands before the value on a line of `key: value`. */
const LEAD = /^\s*(?:- +)*(?:[^\s#:'"[{][^:#]*|"[^"]*"|'[^']*'):[ \t]+(?=\S)/

/** The parts of a line of `key: value`, its comment apart. */
function partsOf(
  text: string,
): { readonly lead: string; readonly value: string; readonly comment: string } | undefined {
  const [lead] = LEAD.exec(text) ?? []
  if (lead === undefined) return undefined
  const rest = text.slice(lead.length)
  const at = rest.search(/(?<![ \t])[ \t]+#/)
  return at === -1 ? { lead, value: rest, comment: '' } : { lead, value: rest.slice(0, at), comment: rest.slice(at) }
}

/** A line whose value is put into quotes. */
function quoteValue({ text }: Line): string | undefined {
  const parts = partsOf(text)
  return parts && `${parts.lead.trimStart()}'${parts.value.replaceAll("'", "''")}'${parts.comment}`
}

/** A line whose value in double quotes is put into single ones. */
function inSingleQuotes(line: Line): string | undefined {
  const { lead = '', value = '', comment } = partsOf(line.text) ?? {}
  const inner = /^"(.*)"$/.exec(value)?.[1]
  return inner === undefined ? undefined : `${lead.trimStart()}'${inner.replaceAll("'", "''")}'${comment}`
}

/** The bracket that closes in a column where the value above it is over; undefined where there is none. */
export function findOutdented(text: string, opening: number): Span | undefined {
  const closing = text.charAt(opening) === '[' ? ']' : '}'
  const found = new RegExp(`^[ \\t]*\\${closing}`, 'm').exec(text.slice(opening))
  if (!found) return undefined
  const at = opening + found.index + found[0].length - 1
  return [at, at + 1]
}
