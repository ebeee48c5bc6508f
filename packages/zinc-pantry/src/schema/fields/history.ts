import type { CommonOptions, Field, FieldOptions } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'

/** Options of {@link history}. */
export interface HistoryOptions extends CommonOptions {
  /**
   * Where the moment comes from: the `versions` of the version control that the folder is in, the times of the `files`
   * themselves, which are others on every machine, or `either`, the versions where there are any. Default: `versions`.
   */
  readonly from?: 'versions' | 'files' | 'either'
}

/** A field of {@link history}. */
export interface HistoryField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'history'
  /** Which of the changes of the file. */
  readonly end: 'first' | 'last'
  readonly options: HistoryOptions & FieldOptions
}

/**
 * The first or the last change of the file that an entry stands in, as an instant in UTC; null where nothing tells. It is computed and
 * never written. Version control is asked once for a build, and follows files that were renamed; what is not committed yet is not known
 * to it.
 *
 * Diagnostics: `field-computed`, `history-missing`, `history-shallow`.
 *
 * @example
 * ```ts
 * import { history } from 'zinc-pantry'
 *
 * const fields = { added: history('first'), changed: history('last', { from: 'either' }) }
 * ```
 */
export function history(end: 'first' | 'last', options: HistoryOptions = {}): HistoryField<string | null> {
  return { kind: 'history', end, options: { ...options, optional: true } }
}

export const historyKind: Kind<HistoryField> = {
  computed: true,
  expected: ({ end }) => `the ${end} change`,
  options: { from: ['versions', 'files', 'either'] },
  compile: () => (value) => value,
  checkDeclaration({ end }, reader, path) {
    if (end !== 'first' && end !== 'last') reader.invalid(path, end, "'first' or 'last'")
  },
  isOrdered: () => true,
  shape: () => ({ kind: 'instant' }),
  store: storeAsIs,
  valueType: () => 'string',
  handleType: () => '$.InstantHandle',
  jsonSchema: () => ({}),
}
