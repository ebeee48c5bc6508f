import { describeValue } from '../../diagnostics/words.ts'
import { INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link url}. */
export interface UrlOptions extends CommonOptions {
  /** Schemes allowed, without the colon. Default: `http` and `https`. */
  readonly schemes?: readonly string[]
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link url}. */
export interface UrlField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'url'
  readonly options: UrlOptions
}

/**
 * A field of absolute URLs, as the WHATWG URL standard reads them, kept as written. White space in
 * them is refused.
 *
 * Diagnostics: `value-type`, `url-invalid`, `url-scheme`.
 *
 * @example
 * ```ts
 * import { url } from 'zinc-pantry'
 *
 * const website = url({ optional: true })
 * const contact = url({ schemes: ['mailto', 'tel'] })
 * ```
 */
export function url<const Options extends UrlOptions = Record<never, never>>(
  options?: Options,
): UrlField<Nullable<string, Options>> {
  return { kind: 'url', options: options ?? {} }
}

const expected = 'a URL'

export const urlKind: Kind<UrlField> = {
  expected: () => expected,
  options: { schemes: 'texts', default: 'any' },
  constraints: () => ['schemes'],
  compile(field) {
    const { schemes = ['http', 'https'] } = field.options
    const allowed = new Set(schemes.map((scheme) => `${scheme.toLowerCase()}:`))
    return (value, run) => {
      if (typeof value !== 'string') return wrongType(run, describeValue(value), expected)
      const parsed = /\s/.test(value) ? null : parseUrl(value)
      if (!parsed) {
        run.report('url-invalid', { value })
        return INVALID
      }
      if (!allowed.has(parsed.protocol)) {
        run.report('url-scheme', { value, scheme: parsed.protocol.slice(0, -1), schemes })
        return INVALID
      }
      return value
    }
  },
  isOrdered: () => true,
  shape: () => ({ kind: 'text' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.TextHandle',
  jsonSchema({ options }) {
    const { schemes = ['http', 'https'] } = options
    return { type: 'string', pattern: `^(?:${schemes.map(anyCase).join('|')}):\\S+$` }
  },
}

/** A scheme as a pattern that takes either case, since JSON Schema patterns have no flags. */
const anyCase = (scheme: string): string =>
  scheme.replace(/[a-z]/gi, (letter) => `[${letter.toLowerCase()}${letter.toUpperCase()}]`).replace(/[.+]/g, '\\$&')

function parseUrl(value: string): URL | null {
  try {
    return new URL(value)
  } catch {
    return null
  }
}
