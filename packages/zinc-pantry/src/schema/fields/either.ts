import { appendAll } from '../../diagnostics/append-all.ts'
import { catalogue } from '../../diagnostics/catalogue/index.ts'
import { createDiagnostic, messageOf } from '../../diagnostics/diagnostic.ts'
import { isGroup } from '../../diagnostics/own-key.ts'
import { describeValue } from '../../diagnostics/words.ts'
import type { AnyField } from '../any-field.ts'
import { type Check, INVALID, wrongType } from '../check-run.ts'
import { commonShape } from '../common-shape.ts'
import type { CommonOptions, Field, FieldLike, Nullable, TargetsOf, ValueOf } from '../field.ts'
import type { Kind, TypeContext } from '../kind.ts'
import type { Shape } from '../shape.ts'
import { startTrial, type Trial } from '../trial-run.ts'
import { propertyName } from './group.ts'
import { asField } from './validator.ts'
import { publicFields } from './variant.ts'

/** Options of {@link either}. */
export interface EitherOptions extends CommonOptions {
  /** The value where the entry has none. */
  readonly default?: unknown
}

/** A field of {@link either}. */
export interface EitherField<Value = unknown, Target extends string = string> extends Field<Value, Target> {
  readonly kind: 'either'
  /** The fields of which one takes the value, the first that does. */
  readonly alternatives: readonly AnyField[]
  readonly options: EitherOptions
}

/**
 * A value of one of several fields: the first that takes it. In types it is their union, told apart by what JavaScript
 * says of the value; queries can ask for what all of them have in common. Where none takes it, the one that came nearest
 * is named, and why it failed.
 *
 * Diagnostics: `value-type`, `either-unmatched`, and those of the fields.
 *
 * @example
 * ```ts
 * import { either, group, text, url } from 'zinc-pantry'
 *
 * const credit = either([text(), group({ name: text(), page: url({ optional: true }) })])
 * ```
 */
export function either<
  const Alternatives extends readonly FieldLike[],
  const Options extends EitherOptions = Record<never, never>,
>(
  alternatives: Alternatives,
  options?: Options,
): EitherField<Nullable<ValueOf<Alternatives[number]>, Options>, TargetsOf<Alternatives[number]>> {
  return { kind: 'either', alternatives: alternatives.map(asField), options: options ?? {} }
}

const isError = ({ code }: { readonly code: keyof typeof catalogue }): boolean => catalogue[code].severity === 'error'

/** Kinds whose values are not stored as they are read, so that it must be known whose they are. */
const STORED_OTHERWISE = ['markdown', 'image', 'file']

/** What JavaScript says of the values of some kinds in an entry; of the others they are texts. */
const VALUE_TYPES: Readonly<Record<string, string>> = {
  int: 'number',
  number: 'number',
  flag: 'boolean',
  list: 'list',
  group: 'group',
  map: 'group',
  block: 'group',
  image: 'group',
  file: 'group',
}

const typeOfValue = (value: unknown): string =>
  Array.isArray(value)
    ? 'list'
    : typeof value === 'object'
      ? 'group'
      : typeof value === 'string'
        ? 'text'
        : typeof value

const typeOfField = ({ kind }: AnyField): string => VALUE_TYPES[kind] ?? 'text'

export const eitherKind: Kind<EitherField> = {
  expected: ({ alternatives }, expectedOf) => alternatives.map(expectedOf).join(' or '),
  options: { default: 'any' },
  compile(field, compiler) {
    const { alternatives } = field
    const checks = alternatives.map((one) => compiler.check(one))
    const words = alternatives.map((one) => one.options.label ?? compiler.expected(one))
    const expected = words.join(' or ')
    return (value, run) => {
      const trials: { readonly trial: Trial; readonly at: number }[] = []
      const depth = run.path.length
      for (const [at, check] of checks.entries()) {
        const trial = startTrial(run)
        const checked = (check as Check)(value, trial.run)
        if (checked !== INVALID && !trial.problems.some(isError)) {
          trial.keep()
          return checked
        }
        // One of another type says nothing about the value but that.
        const isOfType = !trial.problems.some(({ code, path }) => code === 'value-type' && path.length === depth)
        if (isOfType) trials.push({ trial, at })
      }
      const [first, ...others] = trials.sort((a, b) => errorsOf(a.trial).length - errorsOf(b.trial).length)
      if (!first) return wrongType(run, describeValue(value), expected)
      if (others.length === 0) first.trial.keep()
      else {
        const [{ code, parameters, path, part }] = errorsOf(first.trial) as [Trial['problems'][number]]
        const problem = messageOf(createDiagnostic(code, { file: '', span: [0, 0] }, parameters as never))
        const steps = path.slice(depth)
        appendAll(run.path, steps)
        run.report('either-unmatched', { nearest: words[first.at] ?? '', number: first.at + 1, problem }, part)
        run.path.length -= steps.length
      }
      return INVALID
    }
  },
  children: ({ alternatives }) => ({ alternatives }),
  checkDeclaration({ alternatives }, reader, path) {
    if (alternatives.length < 2) reader.invalid(path, alternatives, 'two fields or more')
    for (const [at, one] of alternatives.entries()) {
      if (one.options?.private || one.options?.optional)
        reader.invalid(
          [...path, at],
          one.options.private ? 'private' : 'optional',
          'an alternative without: say it of all',
        )
      const isAlone = alternatives.every((other) => other === one || typeOfField(other) !== typeOfField(one))
      if (STORED_OTHERWISE.includes(one.kind) && !isAlone)
        reader.invalid(
          [...path, at],
          one.kind,
          'values that are told apart from those of the other fields by their type',
        )
    }
  },
  readCell(cell, { alternatives }, { inner }) {
    // A number or a flag before a text, which anything could be.
    const read = alternatives.map((one) => inner(cell, one))
    return read.find((one) => typeof one !== 'string') ?? cell
  },
  isOrdered: () => false,
  shape: ({ alternatives }, inner) => commonShape(alternatives.map((one) => inner(one))),
  store({ alternatives }, context) {
    const stores = alternatives.map((one) => ({ one, store: context.inner(one) }))
    if (stores.every(({ store }) => store === undefined)) return undefined
    return (value, owner) =>
      stores
        .filter(({ one }) => typeOfField(one) === typeOfValue(value) && hasShape(value, one))
        .reduce((stored, { store }) => store?.(stored, owner) ?? stored, value)
  },
  valueType: ({ alternatives }, _context, inner) => [...new Set(alternatives.map(inner))].map(inBrackets).join(' | '),
  handleType: ({ alternatives }, context, inner) => {
    const types = [...new Set(alternatives.map(inner))]
    if (types.length === 1) return types[0] as string
    const value = context.value({ kind: 'either', alternatives, options: {} })
    return commonHandle(alternatives, { context, inner, value })
  },
  jsonSchema: ({ alternatives }, context) => ({ anyOf: alternatives.map((one) => context.inner(one)) }),
}

const errorsOf = ({ problems }: Trial): Trial['problems'] => problems.filter(isError)

/** True where a group has the fields of an alternative, which a check gave it all. */
function hasShape(value: unknown, field: AnyField): boolean {
  if (!isGroup(value) || field.kind !== 'group') return true
  return Object.keys(field.fields).every((name) => Object.hasOwn(value, name))
}

const inBrackets = (type: string): string => (/[|&?]/.test(type) ? `(${type})` : type)

interface Handles {
  readonly context: TypeContext
  readonly inner: (field: AnyField) => string
  readonly value: string
}

/** The TypeScript of what the handles of all alternatives have. */
function commonHandle(alternatives: readonly AnyField[], { context, inner, value }: Handles): string {
  const shape: Shape = context.shape({ kind: 'either', alternatives: [...alternatives], options: {} })
  if (shape.kind === 'text') return '$.TextHandle'
  if (shape.kind === 'plain') return `$.ValueHandle<${value}>`
  if (shape.kind !== 'group') return `$.AnythingHandle<${value}>`
  const [first] = alternatives
  const fields = first?.kind === 'group' ? publicFields(first.fields) : {}
  const common = Object.keys(fields)
    .filter((name) => Object.hasOwn(shape.fields, name))
    .map((name) => {
      const own = alternatives.flatMap((one) => (one.kind === 'group' ? (one.fields[name] ?? []) : []))
      const isOptional = own.some(({ options }) => options.optional)
      const types = [
        ...new Set(own.map((one) => inner({ ...one, options: { ...one.options, optional: false } } as AnyField))),
      ]
      const type =
        types.length === 1
          ? (types[0] as string)
          : commonHandle(own, { context, inner, value: [...new Set(own.map(context.value))].join(' | ') })
      return `readonly ${propertyName(name)}: ${isOptional ? `$.Optional<${type}>` : type}`
    })
  return `$.GroupHandle<${value}> & { ${common.join('; ')} }`
}
