import type { AnyField } from '../schema/any-field.ts'
import { childrenOf, kindOf, leadingOf } from '../schema/kinds.ts'

/** The value that a field expects, in words. */
export const expectedOf = (field: AnyField): string => {
  const { item } = childrenOf(field)
  return item && field.kind === 'list' ? `list: ${expectedOf(item)}` : kindOf(field).expected(field, expectedOf)
}

/** What a writer wants to know of a field, in Markdown. */
export function describeField(name: string, field: AnyField): string {
  const { options } = field
  const { label, description, examples = [], deprecated } = options
  const absent = (options as { readonly default?: unknown }).default
  const isRequired = options.optional !== true && absent === undefined && kindOf(field).computed !== true
  const need = kindOf(field).computed ? 'computed' : isRequired ? 'required' : 'optional'
  const words = kindOf(field).words?.(field)
  const { targets = [] } = leadingOf(field) ?? leadingOf(childrenOf(field).item ?? field) ?? {}
  return [
    `**${label ?? name}** · ${expectedOf(field)} · ${need}${options.private ? ' · private' : ''}`,
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
