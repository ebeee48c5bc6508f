import { isIdentifier } from '../schema/identifiers.ts'
import type { Attention, ChangeStep } from './change.ts'
import type { ConfigurationText } from './configuration-text.ts'
import type { TextEdit } from './edited-source.ts'
import type { ConfigurationNames, NameOccurrence } from './find-names.ts'
import { type ModelSymbol, wordsOf } from './model-names.ts'

/** Things of a model that are to have another name. */
export interface SymbolRenaming {
  readonly symbols: ReadonlySet<ModelSymbol>
  /** The last step of its new name, such as `berths` for `huts.beds`. */
  readonly name: string
}

/** Gives things another name in the configuration, wherever it is written out. */
export function renameInConfiguration(
  { occurrences, hidden }: ConfigurationNames,
  { symbols, name }: SymbolRenaming,
  configuration: Pick<ConfigurationText, 'readsOf'>,
): { readonly steps: readonly ChangeStep[]; readonly attention: readonly Attention[] } {
  const own = occurrences.filter(({ symbol }) => symbols.has(symbol))
  const places = new Map(own.map((one) => [`${one.place.file} ${one.place.span.join()}`, one]))
  const steps = [...places.values()].map((one): ChangeStep => {
    const words = wordsOf(one.symbol)
    const reason = one.isDeclaration ? `${words} is declared as ${name}` : `${words} is named ${name} here`
    return { kind: 'edit', ...one.place, ...writtenName(one, name), reason }
  })
  const declared = [...places.values()].filter(({ isDeclaration, form }) => isDeclaration && form !== 'quoted')
  for (const { place } of declared)
    for (const read of configuration.readsOf(place))
      steps.push({ kind: 'edit', ...read, text: name, reason: `it is read as ${name}` })
  const attention = hidden
    .filter(({ symbol }) => symbols.has(symbol))
    .map(({ symbol, place }): Attention => ({ place, words: `${wordsOf(symbol)} is named here by code` }))
  return { steps, attention }
}

function writtenName({ form, place, constant }: NameOccurrence, name: string): TextEdit {
  const { span } = place
  if (form === 'quoted') return { span, text: name.replace(/['"`\\]/g, '\\$&') }
  const key = isIdentifier(name) ? name : JSON.stringify(name)
  // `{ position }` has its value from a constant, which keeps its name.
  if (form === 'shorthand') return { span, text: `${key}: ${constant?.name ?? ''}` }
  return constant?.name === key ? { span: constant.span, text: key } : { span, text: key }
}

/** Others that are declared at the same places, as those that share a set of fields are. */
export function sharingWith(
  { occurrences }: ConfigurationNames,
  symbols: ReadonlySet<ModelSymbol>,
): readonly ModelSymbol[] {
  const keyOf = ({ place }: NameOccurrence): string => `${place.file} ${place.span[0]}`
  const declarations = occurrences.filter(({ isDeclaration }) => isDeclaration)
  const places = new Set(declarations.filter(({ symbol }) => symbols.has(symbol)).map(keyOf))
  const found = declarations.filter((one) => places.has(keyOf(one)) && !symbols.has(one.symbol))
  return [...new Set(found.map(({ symbol }) => symbol))]
}
