import type { CommonOptions, Field, Nullable } from '../field.ts'
import type { Kind } from '../kind.ts'
import { plainTextKind, type TextForm } from './text-form.ts'

/** Options of {@link colour}. */
export interface ColourOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: string
}

/** A field of {@link colour}. */
export interface ColourField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'colour'
  readonly options: ColourOptions
}

/**
 * A field of colours in the hexadecimal notation of CSS: `#rgb`, `#rgba`, `#rrggbb`, `#rrggbbaa`. It is
 * kept in lower case with two digits a part. In YAML it must be quoted, since `#` starts a comment.
 *
 * Diagnostics: `value-type`, `form-invalid`.
 *
 * @example
 * ```ts
 * import { colour } from 'zinc-pantry'
 *
 * const accent = colour({ default: '#3a6b35' })
 * ```
 */
export function colour<const Options extends ColourOptions = Record<never, never>>(
  options?: Options,
): ColourField<Nullable<string, Options>> {
  return { kind: 'colour', options: options ?? {} }
}

const PATTERN = '^#(?:[0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})$'
const FORM = new RegExp(PATTERN)

const form: TextForm = {
  expected: 'a colour as #rrggbb',
  help: 'Colours are written #rgb or #rrggbb, with two more digits for opacity; quote them in YAML',
  read(value) {
    if (!FORM.test(value))
      return { reason: value.startsWith('#') ? 'its digits are not right' : 'it does not start with #' }
    const lower = value.toLowerCase()
    return { value: lower.length > 5 ? lower : lower.replace(/[0-9a-f]/g, '$&$&') }
  },
}

export const colourKind: Kind<ColourField> = {
  ...plainTextKind<ColourField>(form, () => ({ type: 'string', pattern: PATTERN })),
  isOrdered: () => true,
}
