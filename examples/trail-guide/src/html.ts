/** Text that is HTML already. */
export class Html {
  readonly text: string
  constructor(text: string) {
    this.text = text
  }
  toString(): string {
    return this.text
  }
}

/** What can stand in a template: lists are put one behind the other, nothing where there is nothing. */
export type Part = Html | string | number | false | null | undefined | readonly Part[]

const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }

/** Text as HTML shows it. */
const escapeHtml = (text: string): string => text.replace(/[&<>"]/g, (sign) => ESCAPES[sign] ?? sign)

function write(part: Part): string {
  if (part instanceof Html) return part.text
  if (Array.isArray(part)) return part.map(write).join('')
  return part === false || part === null || part === undefined ? '' : escapeHtml(String(part))
}

/** A template of HTML: everything in it is escaped that is no HTML itself. */
export const html = (strings: TemplateStringsArray, ...parts: readonly Part[]): Html =>
  new Html(strings.map((text, at) => text + write(parts[at])).join(''))
