/** Options of {@link remote}. */
export interface RemoteOptions {
  /**
   * Headers of the request. `$NAME` stands for a variable of the environment, so that no secret is written down.
   * Default: none.
   */
  readonly headers?: Readonly<Record<string, string>>
  /** Values that the answer must have, by JSON Pointer (RFC 6901): `{ '/status': 'ok' }`. Default: none. */
  readonly require?: Readonly<Record<string, string | number | boolean | null>>
  /** How long to wait for an answer. Default: 10,000 ms. */
  readonly timeoutMs?: number
  /** How often to try again where there is no answer, or one that says to come back later. Default: 2. */
  readonly retries?: number
}

/** A source of entries that is fetched. */
export interface RemoteSource extends RemoteOptions {
  readonly kind: 'remote'
  readonly url: string
}

/** A source of entries that a function of the site gives: a list, or a map whose keys are the ids. */
export type SourceFunction = () => unknown

/**
 * A source of entries: JSON over HTTP. `records` of the collection is the JSON Pointer to the entries. The answer is
 * kept in `.pantry/` beside the configuration with its validators (ETag, Last-Modified); where it has not changed, or
 * nobody answers, the kept one is used, the latter with a warning.
 *
 * Diagnostics: `source-unreachable`, `source-status`, `source-unexpected`, `source-variable`, and those of JSON.
 *
 * @example
 * ```ts
 * import { date, pantry, remote, text } from 'zinc-pantry'
 *
 * const bookings = remote('https://api.example.org/bookings', { headers: { Authorization: 'Bearer $API_TOKEN' } })
 * export default pantry({
 *   collections: { bookings: { from: bookings, records: '/items', id: 'number', fields: { guest: text(), on: date() } } },
 * })
 * ```
 */
export const remote = (url: string, options: RemoteOptions = {}): RemoteSource => ({ ...options, kind: 'remote', url })
