import { suggestNearest } from '../../diagnostics/suggest.ts'
import { describeValue, listNames } from '../../diagnostics/words.ts'
import { INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, Nullable } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { hintForText } from './text.ts'

/** Options of {@link choice}. */
export interface ChoiceOptions<Choice extends string> extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: Choice
}

/** A field of {@link choice}. */
export interface ChoiceField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'choice'
  /** The values that are allowed. */
  readonly choices: readonly string[]
  /** The labels that people see for them. */
  readonly labels?: Readonly<Record<string, string>>
  readonly options: ChoiceOptions<string>
}

/**
 * A field whose value is one of a few words. An object instead of a list has what people see beside
 * each.
 *
 * Diagnostics: `value-type`, `choice-unknown`.
 *
 * @example
 * ```ts
 * import { choice } from 'zinc-pantry'
 *
 * const grade = choice(['easy', 'moderate', 'hard'], { default: 'easy' })
 * const state = choice({ open: 'Open', closed: 'Closed until further notice' })
 * ```
 */
export function choice<
  const Choice extends string,
  const Options extends ChoiceOptions<NoInfer<Choice>> = Record<never, never>,
>(
  choices: readonly Choice[] | { readonly [Value in Choice]: string },
  options?: Options,
): ChoiceField<Nullable<Choice, Options>> {
  if (Array.isArray(choices)) return { kind: 'choice', choices, options: options ?? {} }
  const labels = choices as Readonly<Record<string, string>>
  return { kind: 'choice', choices: Object.keys(labels), labels, options: options ?? {} }
}

const expected = (field: ChoiceField): string => {
  const { choices } = field
  return choices.length > 8 ? `one of ${choices.length} words` : `one of ${listNames(choices)}`
}

/** A union of literals for TypeScript, in the order of the configuration. */
const union = (field: ChoiceField): string => field.choices.map((value) => JSON.stringify(value)).join(' | ')

export const choiceKind: Kind<ChoiceField> = {
  expected,
  options: { default: 'any' },
  constraints: () => ['choices', 'labels'],
  compile(field) {
    const { choices } = field
    // Entries hold the words of the configuration, not one of their own each.
    const known = new Map(choices.map((word) => [word, word]))
    return (value, run) => {
      if (typeof value !== 'string') return wrongType(run, describeValue(value), expected(field), hintForText(value))
      const word = known.get(value)
      if (word !== undefined) return word
      run.report('choice-unknown', { value, choices, suggestion: suggestNearest(value, choices) })
      return INVALID
    }
  },
  words: ({ choices, labels }) => ({ choices, ...(labels ? { labels } : {}) }),
  isOrdered: () => true,
  isKey: true,
  checkDeclaration({ choices }: { readonly choices: unknown }, reader, path) {
    if (!Array.isArray(choices) || choices.length === 0 || choices.some((word) => typeof word !== 'string'))
      reader.invalid(path, choices, 'a list of words')
    else if (new Set(choices).size < choices.length) reader.invalid(path, 'a list with a word twice', 'different words')
  },
  shape: (field) => ({ kind: 'text', choices: field.choices }),
  store: storeAsIs,
  valueType: union,
  handleType: (field) => `$.ChoiceHandle<${union(field)}>`,
  jsonSchema({ choices, labels }) {
    if (!labels) return { enum: choices }
    return { oneOf: choices.map((value) => ({ const: value, title: labels[value] })) }
  },
}
