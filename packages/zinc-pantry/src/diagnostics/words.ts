import { formatCount } from './format-count.ts'

/** The length at which a seen value is cut where a message repeats it. */
const SHOWN = 40

/** Longest id that a message repeats: two that differ at their ends must not look the same. */
const SHOWN_ID = 200

/** An id in double quotes, like {@link quote}, but cut only where it is very long. */
export const quoteId = (id: string): string => quote(id, SHOWN_ID)

/** A name or value in double quotes, control characters escaped, long ones cut. */
export function quote(value: string, most: number = SHOWN): string {
  const characters = Array.from(value.length > 4 * most ? value.slice(0, 4 * most) : value)
  const cut = characters.length > most ? `${characters.slice(0, most - 1).join('')}…` : value
  return `"${cut.replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029]/g, escapeControl)}"`
}

function escapeControl(character: string): string {
  const known: Record<string, string> = { '\n': '\\n', '\r': '\\r', '\t': '\\t' }
  return known[character] ?? `\\u${character.charCodeAt(0).toString(16).padStart(4, '0')}`
}

/**
 * A count with its noun: `1 entry`, `3 entries`.
 *
 * @example
 * ```ts
 * import { plural } from 'zinc-pantry/engine'
 *
 * console.log(plural(1, 'entry', 'entries'), plural(3, 'entry', 'entries')) // 1 entry 3 entries
 * ```
 */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`
}

/** Names in quotes: `"a", "b" or "c"`; after eight the rest is counted. */
export function listNames(names: readonly string[], last: 'and' | 'or' = 'or'): string {
  const shown = names.slice(0, 8).map((name) => quote(name))
  if (names.length > 8) return `${shown.join(', ')} ${last} ${names.length - 8} more`
  if (shown.length < 2) return shown.join('')
  return `${shown.slice(0, -1).join(', ')} ${last} ${shown.at(-1)}`
}

/** A value as a message shows it: text in quotes, numbers bare, collections by their kind. */
export function describeValue(value: unknown): string {
  if (typeof value === 'string') return quote(value)
  if (Array.isArray(value)) return value.length === 0 ? 'an empty list' : 'a list'
  if (value === null || value === undefined) return 'nothing'
  if (typeof value === 'object') return 'a group of keys'
  return String(value)
}

/** A setting's path as a person writes it: `collections.trails.fields.region`. */
export function settingPath(path: readonly (string | number)[]): string {
  return path.reduce<string>((text, step) => {
    if (typeof step === 'number') return `${text}[${step}]`
    if (!/^[A-Za-z_$][\w$]*$/.test(step)) return `${text}[${quote(step)}]`
    return text === '' ? step : `${text}.${step}`
  }, '')
}
