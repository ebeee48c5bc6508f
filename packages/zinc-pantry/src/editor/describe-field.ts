import type { AnyField } from '../schema/any-field.ts'
import { childrenOf, expectedOf, kindOf, leadingOf } from '../schema/kinds.ts'
import { isRest } from '../schema/written-key.ts'

/** The value that a field expects, in words, with what a list holds. */
export function expectedWithItems(field: AnyField): string {
  const { item } = childrenOf(field)
  return item && field.kind === 'list' ? `list: ${expectedWithItems(item)}` : expectedOf(field)
}

/** True for a field that a writer has to give a value. */
export const isRequired = (field: AnyField): boolean =>
  field.options.optional !== true &&
  (field.options as { readonly default?: unknown }).default === undefined &&
  !isRest(field) &&
  kindOf(field).computed !== true

/** What a writer wants to know of a field, in Markdown. */
export function describeField(name: string, field: AnyField): string {
  const { options } = field
  const { label, description, examples = [], deprecated } = options
  const absent = (options as { readonly default?: unknown }).default
  const need = kindOf(field).computed ? 'computed' : isRequired(field) ? 'required' : 'optional'
  const words = kindOf(field).words?.(field)
  const { targets = [] } = leadingOf(field) ?? leadingOf(childrenOf(field).item ?? field) ?? {}
  return [
    `**${label ?? name}** · ${expectedWithItems(field)} · ${need}${options.private ? ' · private' : ''}`,
    ...(deprecated ? ['Deprecated: new content should not use it.'] : []),
    ...(description ? [description] : []),
    ...describeConstraints(field),
    ...(words?.labels ? [words.choices.map((one) => `- \`${one}\` ${words.labels?.[one] ?? ''}`).join('\n')] : []),
    ...(targets.length > 0 ? [`Leads to ${targets.join(' or ')}.`] : []),
    ...(absent === undefined ? [] : [`Default: \`${JSON.stringify(absent)}\``]),
    ...(examples.length > 0 ? [`Examples: ${examples.map((one) => `\`${JSON.stringify(one)}\``).join(', ')}`] : []),
  ].join('\n\n')
}

const CONSTRAINTS = [
  'minLength',
  'maxLength',
  'minimum',
  'maximum',
  'multipleOf',
  'minItems',
  'maxItems',
  'uniqueItems',
  'pattern',
  'unique',
]

/** The constraints of a field, by their names in JSON Schema. */
function describeConstraints({ options }: AnyField): string[] {
  const given = options as Readonly<Record<string, unknown>>
  const found = CONSTRAINTS.flatMap((name) => {
    const value = given[name]
    if (value === undefined || value === false) return []
    return [value === true ? name : `${name} ${value instanceof RegExp ? value.source : JSON.stringify(value)}`]
  })
  return found.length > 0 ? [found.map((one) => `\`${one}\``).join(', ')] : []
}
