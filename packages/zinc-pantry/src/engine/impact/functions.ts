import { settingPath } from '../../diagnostics/words.ts'
import { leadingOf } from '../../schema/kinds.ts'
import { type Model, visitFields } from '../../schema/model.ts'
import type { SettingStep } from '../../schema/settings-reader.ts'
import type { NamedSetting } from './effects.ts'

type Code = (...given: never[]) => unknown

/** A function of a configuration. */
interface ModelFunction {
  readonly collection: string
  readonly path: readonly SettingStep[]
  readonly code: Code
}

/** Every function that reads entries: those of derived fields and of rules. */
const functionsOf = ({ collections }: Model): ModelFunction[] =>
  collections.flatMap(({ name, derived, rules }) => [
    ...Object.entries(derived).map(([key, { from }]): ModelFunction => {
      return { collection: name, path: ['collections', name, 'derive', key], code: from }
    }),
    ...rules.map(
      (code, position): ModelFunction => ({ collection: name, path: ['collections', name, 'rules', position], code }),
    ),
  ])

const escaped = (name: string): string => name.replace(/\W/g, '\\$&')

/** Functions are read as text: what they name, behind a dot, in quotes or taken apart, they may read. */
function mentions(code: Code, field: string): boolean {
  const name = escaped(field)
  return new RegExp(`\\.\\s*${name}(?![\\w$])|(["'\`])${name}\\1|[{,]\\s*${name}\\s*(?=[,:}=])`).test(String(code))
}

/** True where a function names something in quotes. */
const quotes = (code: Code, name: string): boolean => new RegExp(`(["'\`])${escaped(name)}\\1`).test(String(code))

const asSetting = ({ path }: ModelFunction): NamedSetting => ({ path, words: `${settingPath([...path])} names it` })

/** Functions that may read a field: those of its collection, and those of others that name the collection too. */
export const functionsWithField = (model: Model, collection: string, field: string): NamedSetting[] =>
  functionsOf(model)
    .filter(({ collection: own, path, code }) => {
      if (own === collection && path[2] === 'derive' && path[3] === field) return false
      return (
        mentions(code, field) && (own === collection || leadsTo(model, own, collection) || quotes(code, collection))
      )
    })
    .map(asSetting)

/** True where entries of a collection refer to those of another, so that their functions may follow. */
function leadsTo(model: Model, from: string, to: string): boolean {
  let leads = false
  for (const { name, fields } of model.collections)
    if (name === from) visitFields(fields, (field) => (leads ||= leadingOf(field)?.targets.includes(to) === true))
  return leads
}

/** Functions that name an entry, or a value of a choice, in quotes. */
export const functionsWithText = (model: Model, text: string, collection?: string): NamedSetting[] =>
  functionsOf(model)
    .filter(({ collection: own, code }) => {
      if (!quotes(code, text)) return false
      if (collection === undefined || quotes(code, collection)) return true
      // One that names another collection most likely means an entry of that.
      return own === collection && !model.collections.some(({ name }) => quotes(code, name))
    })
    .map(asSetting)
