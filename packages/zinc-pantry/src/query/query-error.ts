/**
 * Wrong use of a query, such as the name of a field that does not exist.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { QueryError, runQuery } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * try {
 *   await runQuery(site, { collection: 'hutts' })
 * } catch (error) {
 *   if (!(error instanceof QueryError)) throw error
 *   console.log(error.message)
 * }
 * ```
 */
export class QueryError extends Error {
  override readonly name = 'QueryError'
}

/** The error that there is no such thing, with those that there are. */
export const describeUnknown = (thing: string, known: readonly string[]): QueryError =>
  new QueryError(`There is no ${thing}; there ${known.length > 0 ? `are ${known.join(', ')}` : 'is none'}`)
