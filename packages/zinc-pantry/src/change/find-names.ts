import type { Place, Span } from '../diagnostics/diagnostic.ts'
import type { Model } from '../schema/model.ts'
import type { ConfigurationText, SyntaxPath, WrittenName } from './configuration-text.ts'
import type { ModelSymbol } from './model-names.ts'
import { listNamingSettings, type NamingSetting } from './naming-settings.ts'

/** A name of something in a configuration. */
export interface NameOccurrence {
  readonly symbol: ModelSymbol
  readonly place: Place
  readonly form: WrittenName['form']
  readonly constant?: WrittenName['constant']
  /** Where it gets its name; elsewhere it is used. */
  readonly isDeclaration: boolean
  /** The property or the text that is this name and nothing else. */
  readonly whole?: Span | undefined
  /** True for one of several in a list, or for a key, that can go by itself. */
  readonly isListed?: boolean
  /** True where it says what full-text search looks at. */
  readonly isSearched?: boolean
}

/** All names in a configuration. */
export interface ConfigurationNames {
  readonly occurrences: readonly NameOccurrence[]
  /** Settings that name something in a way that the text does not show, such as by code. */
  readonly hidden: readonly { readonly symbol: ModelSymbol; readonly place: Place }[]
}

/** Finds every name in a configuration, as far as it is written out. */
export function findNames(model: Model, configuration: ConfigurationText): ConfigurationNames {
  const settings = listNamingSettings(model)
  const found = settings.map((setting) => ({ setting, occurrences: occurrencesOf(setting, configuration) }))
  const hidden = found.flatMap(({ setting }) => {
    if (setting.expected.length === 0) return []
    const shown = new Set(
      found.flatMap((one) =>
        isWithin(one.setting.path, setting.path) ? one.occurrences.map(({ symbol }) => symbol) : [],
      ),
    )
    const left = setting.expected.filter((symbol) => !shown.has(symbol))
    return left.map((symbol) => ({ symbol, place: configuration.placeOf(setting.path) }))
  })
  const keyOf = ({ symbol, place }: NameOccurrence): string => `${symbol} ${place.file} ${place.span.join()}`
  const all = found.flatMap(({ occurrences }) => occurrences)
  return { occurrences: [...new Map(all.map((one) => [keyOf(one), one])).values()], hidden }
}

const isWithin = (path: SyntaxPath, outer: SyntaxPath): boolean => outer.every((step, at) => path[at] === step)

function occurrencesOf(setting: NamingSetting, configuration: ConfigurationText): readonly NameOccurrence[] {
  const { path, part, isDeclaration, namesIn } = setting
  return writtenAt(configuration, path, part).flatMap(({ file, span, text, form, constant, whole: all }) =>
    namesIn(text).map(({ symbol, start, end }): NameOccurrence => {
      const place = { file, span: [span[0] + start, span[0] + end] as const }
      const whole = start === 0 && end === text.length ? all : undefined
      const isListed = part !== 'texts' || LISTS.some((name) => path.includes(name)) || isBlock(symbol)
      return {
        symbol,
        place,
        form,
        isDeclaration,
        constant,
        whole,
        isListed,
        isSearched: path.at(-1) === 'search' && part === 'keys',
      }
    }),
  )
}

/** Settings whose texts can go one by one. */
const LISTS = ['indexes', 'sharedSlugs']

const isBlock = (symbol: ModelSymbol): boolean => /^blocks\.[^.]+$/.test(symbol)

function writtenAt(
  configuration: ConfigurationText,
  path: SyntaxPath,
  part: NamingSetting['part'],
): readonly WrittenName[] {
  if (part === 'texts') return configuration.textsAt(path)
  if (part === 'keys') return configuration.keysAt(path)
  const key = configuration.keyAt(path)
  return key ? [key] : []
}
