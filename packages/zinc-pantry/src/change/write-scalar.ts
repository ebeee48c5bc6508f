import type { FormatName } from '../values/format-names.ts'

/** What a YAML reader of the core schema may take for something else than text; dates are texts. */
const NOT_PLAIN = /^(?:true|false|null|~|(?!\d{4}-\d\d-\d\d$)[-+.]?\d.*|[-+.]inf|\.nan)$/i
/** What readers of older rules take for true or false. */
const OLD_FLAG = /^(?:yes|no|on|off|y|n)$/i
const PLAIN =
  /^(?:\.{1,2}\/)*[\p{L}\p{N}/](?:[\p{L}\p{N}_./-]|:(?=[\p{L}\p{N}/]))*(?: (?:[\p{L}\p{N}_./-]|:(?=[\p{L}\p{N}/]))+)*$/u

/** What needs no quotes behind the key of a line: within brackets a comma would end it. */
const PROSE = /^[\p{L}\p{N}(][\p{L}\p{N}.,;!?()'"/_–—-]*(?: [\p{L}\p{N}.,;!?()'"/_–—-]+)*$/u

/** A text behind the key of a line of YAML without quotes, where it needs none there; undefined for others. */
export const writeProse = (text: string): string | undefined =>
  PROSE.test(text) && !NOT_PLAIN.test(text) && !OLD_FLAG.test(text) ? text : undefined

/**
 * A text as it is written in the place of another one, or where there is none, which is empty: in the quotes that the other has, or in
 * some where it needs them.
 * Undefined where a person has to write it. A change is read again before it is made, so that what is wrong here is found.
 */
export function writeScalar(written: string, text: string, format: FormatName): string | undefined {
  const [quote] = written
  switch (format) {
    case 'json':
    case 'jsonc':
    case 'jsonl':
      return quote === '"' ? JSON.stringify(text) : undefined
    case 'toml':
      if (quote === "'" && !text.includes("'")) return `'${text}'`
      return quote === '"' || quote === "'" || !/^[\w-]+$/.test(text) ? JSON.stringify(text) : text
    case 'csv':
    case 'tsv':
      return quote === '"' || /[",;\t\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
    default:
      // In other quotes lines are joined to one.
      if (quote === '"' || /[\n\r\t]/.test(text)) return JSON.stringify(text)
      if (quote === "'" || !PLAIN.test(text) || NOT_PLAIN.test(text) || (written === '' && OLD_FLAG.test(text)))
        return `'${text.replaceAll("'", "''")}'`
      return text
  }
}

/** A text as it is written as the property of a block in a body, in the place of another one, whose quotes are left out. */
export const writeProperty = (text: string): string | undefined => (/^[^\s"'{}<>&=`]+$/.test(text) ? text : undefined)

/** A cell with a list in which one text stands in the place of another; undefined where the list does not hold it. */
export function writeItem(
  written: string,
  { item, text, separator }: { readonly item: string; readonly text: string; readonly separator: string },
): string | undefined {
  const [quote = ''] = /^["']/.exec(written) ?? []
  const inner = written.slice(quote.length, written.length - quote.length)
  if (/["'\\\r\n]/.test(text) || text.includes(separator)) return undefined
  const items = inner.split(separator)
  if (!items.some((one) => one.trim() === item)) return undefined
  return quote + items.map((one) => (one.trim() === item ? one.replace(item, () => text) : one)).join(separator) + quote
}
