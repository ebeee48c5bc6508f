import { listNames } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import type { CommonOptions, Field, FieldSet, Fields, TargetsOf } from '../field.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { type ChoiceField, choiceKind } from './choice.ts'
import { asFields } from './validator.ts'

declare const VARIANTS: unique symbol

/** The field sets of a {@link variant} by name. */
export type VariantSets = { readonly [name: string]: FieldSet }

/** A field of {@link variant}. */
export interface VariantField<Sets extends VariantSets = VariantSets>
  extends Field<keyof Sets & string, { [Name in keyof Sets]: TargetsOf<Sets[Name][keyof Sets[Name]]> }[keyof Sets]> {
  readonly kind: 'variant'
  /** The fields of each shape by its name. */
  readonly variants: { readonly [name: string]: Fields }
  readonly options: CommonOptions & { readonly default?: string }
  /** Exists in types only. */
  readonly [VARIANTS]?: { readonly sets: Sets }
}

/** The sets of a variant field, or never for any other field. */
export type VariantsOf<F> = F extends { readonly [VARIANTS]?: { readonly sets: infer Sets extends VariantSets } }
  ? Sets
  : never

/**
 * A field that tells several shapes apart: its value is the name of one, and the fields of that shape stand beside
 * it. In types this is a union, told apart by the field. A set of fields has at most one.
 *
 * Diagnostics: `value-type`, `choice-unknown`, and those of the fields.
 *
 * @example
 * ```ts
 * import { date, pantry, text, url, variant } from 'zinc-pantry'
 *
 * const kind = variant({ article: { author: text() }, event: { on: date(), tickets: url({ optional: true }) } })
 * export default pantry({ collections: { news: { files: 'news/*.md', fields: { title: text(), kind } } } })
 * ```
 */
export function variant<const Sets extends VariantSets>(sets: Sets, options: CommonOptions = {}): VariantField<Sets> {
  const variants = Object.fromEntries(Object.entries(sets).map(([name, fields]) => [name, asFields(fields)]))
  return { kind: 'variant', variants, options }
}

/** One shape of a set of fields. */
export interface Alternative {
  /** The name of the variant; undefined where there is only one shape. */
  readonly name: string | undefined
  readonly fields: Fields
}

/** The shapes of a set of fields: one, or as many as its variant field tells apart. */
export function alternativesOf(fields: Fields): { key: string | undefined; alternatives: readonly Alternative[] } {
  const found = Object.entries(fields).find((one): one is [string, VariantField] => one[1].kind === 'variant')
  if (!found) return { key: undefined, alternatives: [{ name: undefined, fields }] }
  const [key, { variants, options }] = found
  const alternatives = Object.entries(variants).map(([name, own]): Alternative => {
    const constant: ChoiceField = { kind: 'choice', choices: [name], options }
    return { name, fields: { ...fields, [key]: constant, ...own } }
  })
  return { key, alternatives }
}

/** All fields that any shape has; of two of one name the first. */
export function mergedFields(fields: Fields): Fields {
  const { key, alternatives } = alternativesOf(fields)
  if (key === undefined) return fields
  return Object.assign({}, ...alternatives.map(({ fields: own }) => own).reverse(), { [key]: fields[key] })
}

/** The fields of a single shape that are not private. */
export const publicFields = (fields: Fields): Fields =>
  Object.fromEntries(Object.entries(fields).filter(([, { options }]) => options.private !== true))

/** The shapes of a set of fields, each without its private fields. */
const visibleAlternatives = (fields: Fields): readonly Fields[] =>
  alternativesOf(fields).alternatives.map(({ fields: own }) => publicFields(own))

/** All fields that any shape shows; of two of one name the first, and of the variant field itself all its names. */
export function visibleFields(fields: Fields): Fields {
  const { key } = alternativesOf(fields)
  const merged: Fields = Object.assign({}, ...[...visibleAlternatives(fields)].reverse())
  return key === undefined || !Object.hasOwn(merged, key) ? merged : { ...merged, [key]: fields[key] as AnyField }
}

/** The fields that queries see: those that not every shape shows may be missing. */
export function queriedFields(fields: Fields): Fields {
  const alternatives = visibleAlternatives(fields)
  const isEverywhere = (name: string): boolean => alternatives.every((own) => Object.hasOwn(own, name))
  return Object.fromEntries(
    Object.entries(visibleFields(fields)).map(([name, field]) => [
      name,
      isEverywhere(name) ? field : ({ ...field, options: { ...field.options, optional: true } } as AnyField),
    ]),
  )
}

/** Outside of a set of fields, as for a wrong name, a variant is a choice of names. */
const asChoice = ({ variants, options }: VariantField): ChoiceField => ({
  kind: 'choice',
  choices: Object.keys(variants),
  options,
})

export const variantKind: Kind<VariantField> = {
  expected: ({ variants }) => `one of ${listNames(Object.keys(variants))}`,
  options: {},
  compile: (field, compiler) => choiceKind.compile(asChoice(field), compiler),
  children: ({ variants }) => ({ variants }),
  words: (field) => ({ choices: Object.keys(field.variants) }),
  isOrdered: () => true,
  shape: (field, ...rest) => choiceKind.shape(asChoice(field), ...rest),
  store: storeAsIs,
  valueType: (field, ...rest) => choiceKind.valueType(asChoice(field), ...rest),
  handleType: (field, ...rest) => choiceKind.handleType(asChoice(field), ...rest),
  jsonSchema: (field, context) => choiceKind.jsonSchema(asChoice(field), context),
}
