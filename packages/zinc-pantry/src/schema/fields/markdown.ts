import type { CommonOptions, Field, Nullable } from '../field.ts'
import type { Kind } from '../kind.ts'
import { type TextField, textKind } from './text.ts'

/** Options of {@link markdown}, named as in JSON Schema 2020-12. */
export interface MarkdownOptions extends CommonOptions {
  /** Fewest characters of the source (Unicode code points). Default: 0. */
  readonly minLength?: number
  /** Most characters of the source (Unicode code points). Default: no limit. */
  readonly maxLength?: number
  /** The value where the entry has none. */
  readonly default?: string
}

/** The value of a field of Markdown in the output. Derived fields and rules see the source alone. */
export interface MarkdownValue {
  /** The source. */
  readonly text: string
  readonly html: string
}

/** A field of {@link markdown}. */
export interface MarkdownField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'markdown'
  readonly options: MarkdownOptions
}

/**
 * A field of Markdown outside of the body, such as a note in a data file. The output has its source and its HTML;
 * derived fields and rules see the source.
 *
 * Diagnostics: `value-type`, `text-too-short`, `text-too-long`; of its links `link-broken`, `link-fragment`.
 *
 * @example
 * ```ts
 * import { markdown } from 'zinc-pantry'
 *
 * const directions = markdown({ optional: true })
 * ```
 */
export function markdown<const Options extends MarkdownOptions = Record<never, never>>(
  options?: Options,
): MarkdownField<Nullable<string, Options>> {
  return { kind: 'markdown', options: options ?? {} }
}

const asText = ({ options }: MarkdownField): TextField => ({ kind: 'text', options })

export const markdownKind: Kind<MarkdownField> = {
  expected: () => 'Markdown text',
  options: { minLength: 'count', maxLength: 'count', default: 'any' },
  ranges: [['minLength', 'maxLength']],
  constraints: () => ['minLength', 'maxLength'],
  compile(field, compiler) {
    const check = textKind.compile(asText(field), compiler)
    return (value, run) => {
      const checked = check(value, run)
      if (typeof checked === 'string') run.linked(checked)
      return checked
    }
  },
  isOrdered: () => true,
  shape: () => ({ kind: 'group', fields: { text: { kind: 'text' }, html: { kind: 'anything' } } }),
  store:
    (_field, { render }) =>
    (value, owner) =>
      typeof value === 'string' ? { text: value, html: render(value, owner) } : value,
  valueType: () => '$.MarkdownValue',
  handleType: () => '$.MarkdownHandle',
  jsonSchema: (field, context) => ({
    ...textKind.jsonSchema(asText(field), context),
    contentMediaType: 'text/markdown',
  }),
}
