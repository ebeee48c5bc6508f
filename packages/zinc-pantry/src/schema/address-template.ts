import { parseTemplate, type Template } from 'url-template'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { DerivedField } from './computation.ts'
import type { Fields } from './field.ts'
import { mergedFields } from './fields/variant.ts'
import { childrenOf } from './kinds.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** The derived field that holds the addresses that a template makes. */
export const ADDRESS_FIELD = 'address'

/** What an entry has beside its fields that a template may name. */
const HEAD = ['id', 'slug', 'locale']

/** A template of the addresses of pages. */
export interface AddressTemplate {
  readonly field: DerivedField
  /** The fields that it names. */
  readonly variables: readonly string[]
}

/** True for a setting that is a template of addresses, and not the name of a field. */
export const isTemplate = (value: unknown): value is string => typeof value === 'string' && /[/{]/.test(value)

/** The names in the expressions of a template, by RFC 6570. */
const namesIn = (template: string): string[] =>
  [...template.matchAll(/\{[+#./;?&]?([^{}]*)\}/g)].flatMap(([, list = '']) =>
    list.split(',').map((one) => one.replace(/(?::\d+|\*)$/, '').trim()),
  )

/**
 * Reads a template of addresses (RFC 6570) over the fields of an entry, its `id`, `slug` and `locale`. A page named `index` is that
 * of its folder; those in other languages than the first begin with the language, unless the template says where it stands.
 */
export function buildAddress(
  reader: SettingsReader,
  path: SettingStep[],
  template: string,
  { fields, locales }: { readonly fields: Fields; readonly locales: readonly string[] },
): AddressTemplate | undefined {
  const own = mergedFields(fields)
  const known = [...HEAD, ...Object.keys(own).filter((name) => isPlain(own, name))]
  const variables = namesIn(template)
  const unknown = variables.find((name) => !known.includes(name))
  if (!template.startsWith('/') || variables.length === 0)
    return reader.invalid(path, template, 'the name of a field, or a template such as "/huts/{slug}/"')
  if (unknown !== undefined) {
    const suggestion = suggestNearest(unknown, known)
    reader.report('config-field-unfit', path, {
      name: unknown,
      expected: 'a single value that is not private',
      suggestion,
      known,
    })
    return undefined
  }
  const parsed = parseTemplate(template)
  const hasLocale = variables.includes('locale')
  const first = hasLocale ? undefined : locales[0]
  const from = (entry: never): string => expand(parsed, entry, { variables, first })
  return { field: { field: { kind: 'text', options: {} }, from }, variables }
}

const isPlain = (fields: Fields, name: string): boolean => {
  const field = fields[name]
  if (!field || field.options.private) return false
  const { item, fields: inner, blocks, alternatives } = childrenOf(field)
  return !item && !inner && !blocks && !alternatives
}

/** An entry as a template sees it. */
interface Addressed extends Readonly<Record<string, unknown>> {
  readonly id: string
  readonly slug: string
  readonly locale?: string
}

interface Expansion {
  readonly variables: readonly string[]
  /** The language whose pages do not begin with it; undefined where none do. */
  readonly first: string | undefined
}

function expand(template: Template, entry: Addressed, { variables, first }: Expansion): string {
  const { locale } = entry
  // Not all of the entry, of which the address is a part.
  const values = Object.fromEntries(
    variables.map((name) => {
      const value = entry[name]
      return [name, name === 'id' || name === 'slug' ? withoutIndex(String(value)) : (value ?? undefined)]
    }),
  )
  const address = template.expand(values as Parameters<Template['expand']>[0]).replace(/\/{2,}/g, '/')
  return first === undefined || locale === undefined || locale === first ? address : `/${locale}${address}`
}

const withoutIndex = (name: string): string => name.replace(/(?:^|\/)index$/i, '')
