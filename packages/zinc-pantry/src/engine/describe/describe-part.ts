import { findNames } from '../../change/find-names.ts'
import { fieldOf, type ModelSymbol, wordsOf } from '../../change/model-names.ts'
import { sharingWith } from '../../change/rename-names.ts'
import type { Place } from '../../diagnostics/diagnostic.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { pageAddress, qualifiedId } from '../../link/pages.ts'
import type { AnyField } from '../../schema/any-field.ts'
import { childrenOf, expectedOf } from '../../schema/kinds.ts'
import type { CollectionModel, Model } from '../../schema/model.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import type { Target } from '../change/resolve-target.ts'
import type { Checked } from '../check.ts'
import { openConfiguration } from '../configuration/open-configuration.ts'
import { readText } from '../read-text.ts'
import type { SiteOptions } from '../site-report.ts'

/** A field, a word of a choice, a block or a file, for people: what it is, and what uses it. */
export interface PartDescription {
  readonly name: string
  /** In words: what it expects, or what it is. */
  readonly words: string
  readonly help: string | undefined
  /** Fields of a block. */
  readonly fields: readonly (readonly [name: string, expected: string])[]
  /** Where it is declared, and where settings name it or code reads it. */
  readonly declared: readonly Place[]
  readonly named: readonly Place[]
  /** Others that are declared at the same place, as in a shared set of fields. */
  readonly sharedWith: readonly string[]
  /** The entries that have it, where that is a file or a block. */
  readonly usedBy: readonly string[]
  /** Of a block some of the values that it has in entries. */
  readonly samples?: readonly BlockSample[]
}

/** A use of a block. */
export interface BlockSample {
  readonly entry: string
  /** The address of the page of the entry, where it has one. */
  readonly address?: string
  readonly value: Readonly<Record<string, unknown>>
}

/** So many uses of a block are shown. */
const MOST_SAMPLES = 3

/** Describes a part of the model by its symbol: where its name stands, and what shares its declaration. */
export async function describePart(
  target: Extract<Target, { readonly symbol: ModelSymbol }>,
  { model, checked }: { readonly model: Model; readonly checked: Checked },
  { host, configurationFile }: SiteOptions,
): Promise<PartDescription> {
  const { symbol } = target
  const configuration = await openConfiguration(configurationFile, (file) => readText(host, file))
  const names = findNames(model, configuration)
  const own = names.occurrences.filter((one) => one.symbol === symbol)
  const field = 'names' in target ? fieldOf(model, target.owner, target.names)?.field : undefined
  const block = target.kind === 'block' ? (model.blocks.get(target.name) ?? {}) : {}
  const samples = target.kind === 'block' ? samplesOf(checked, target.name) : []
  const declared = own.filter(({ isDeclaration }) => isDeclaration).map(({ place }) => place)
  return {
    name: wordsOf(symbol),
    words:
      target.kind === 'choice'
        ? `a value of ${target.names.join('.')}`
        : field
          ? expectedOf(field)
          : `a ${target.kind}`,
    help: field?.options.description,
    fields: Object.entries(block).map(([name, one]) => [name, expectedOf(one)]),
    declared,
    named: [
      ...own.filter(({ isDeclaration }) => !isDeclaration).map(({ place }) => place),
      ...declared.flatMap((place) => configuration.readsOf(place)),
    ],
    sharedWith: sharingWith(names, new Set([symbol])).map(wordsOf),
    usedBy: samples.map(({ entry }) => entry),
    ...(target.kind === 'block' ? { samples: samples.slice(0, MOST_SAMPLES) } : {}),
  }
}

/** The entries that have a block in their data or use it in their bodies, each with the first value it has there. */
const samplesOf = (checked: Checked, block: string): readonly BlockSample[] =>
  entriesOf(checked).flatMap((entry) => {
    const holder = checked.collections.find(({ collection }) => collection.name === entry.collection)?.collection
    const [value] = usesOfBlock(entry, holder, block)
    const address = holder && pageAddress(entry, holder)
    return value ? [{ entry: qualifiedId(entry), value, ...(address === undefined ? {} : { address }) }] : []
  })

type Properties = Readonly<Record<string, unknown>>

/** The values of a block in the data of an entry and in its body. */
function usesOfBlock(entry: LinkedEntry, holder: CollectionModel | undefined, block: string): readonly Properties[] {
  const inData = Object.entries(holder?.fields ?? {}).flatMap(([name, field]) =>
    findBlock(entry.data?.[name], field, block),
  )
  const inBody = (entry.body?.summary.uses ?? []).flatMap((use, at) =>
    use.block === block ? [entry.properties[at] ?? {}] : [],
  )
  return [...inData, ...inBody]
}

function findBlock(value: unknown, field: AnyField, block: string): readonly Properties[] {
  const { item, blocks, fields } = childrenOf(field)
  if (Array.isArray(value)) return item ? value.flatMap((one) => findBlock(one, item, block)) : []
  if (typeof value !== 'object' || value === null) return []
  const group = value as Properties
  if (blocks) return group[blocks.key] === block ? [group] : []
  return Object.entries(fields ?? {}).flatMap(([name, inner]) => findBlock(group[name], inner, block))
}

/** Describes a file of the content by the entries that name it or link to it. */
export function describeFile(path: string, checked: Checked): PartDescription {
  const isMeant = (file: string): boolean => file === path || file.startsWith(`${path}/`)
  const users = entriesOf(checked).filter((entry) => {
    if ([...entry.assets, entry.source.file].some(isMeant)) return true
    const addresses = [entry.body?.summary, ...entry.texts.map(({ summary }) => summary)].flatMap(
      (one) => one?.addresses ?? [],
    )
    return addresses.some((href) => {
      const target = checked.resolveLink(href, entry)
      return target.kind === 'asset' && isMeant(target.file)
    })
  })
  const usedBy = users.map(qualifiedId)
  return {
    name: path,
    words: 'a file of the content',
    help: undefined,
    fields: [],
    declared: [],
    named: [],
    sharedWith: [],
    usedBy,
  }
}
