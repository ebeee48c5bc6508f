import { findNames } from '../change/find-names.ts'
import type { ModelSymbol } from '../change/model-names.ts'
import { collectionLevel } from '../change/model-names.ts'
import { takeApart } from '../change/written-fields.ts'
import type { Place } from '../diagnostics/diagnostic.ts'
import { valueAt } from '../diagnostics/own-key.ts'
import { openConfiguration } from '../engine/configuration/open-configuration.ts'
import { qualifiedId } from '../link/pages.ts'
import { formatOf } from '../read/formats.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { asGroup } from '../validate/name-record.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning, type Meaning } from './find-meaning.ts'
import { linksIn, type Position } from './look-at.ts'

/** The surroundings of a question that reaches into the configuration. */
export interface Surrounding {
  readonly configurationFile: string
  textOf(file: string): string | undefined
}

/** Where what a position means is declared: an entry, a file, or a field in the configuration. */
export async function findDefinition(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<readonly Place[]> {
  const meaning = findMeaning(editorSite, position)
  if (!meaning) return []
  switch (meaning.kind) {
    case 'entry':
      return [placeOfEntry(editorSite, meaning.entry)]
    case 'file':
      return [{ file: `${editorSite.model.content}/${meaning.path}`, span: [0, 0] }]
    default:
      return (await placesInConfiguration(editorSite, meaning.symbol, around))
        .filter(({ isDeclaration }) => isDeclaration)
        .map(({ place }) => place)
  }
}

/** Where an entry stands; one that a reference made where that stands. */
export const placeOfEntry = (_: EditorSite, entry: LinkedEntry): Place => entry.locate([])

async function placesInConfiguration(
  { model }: EditorSite,
  symbol: ModelSymbol,
  { configurationFile, textOf }: Surrounding,
) {
  const names = findNames(model, await openConfiguration(configurationFile, textOf))
  return names.occurrences.filter((one) => one.symbol === symbol)
}

/** Everywhere that what a position means is used, with where it is declared. */
export async function findReferences(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<readonly Place[]> {
  const meaning = findMeaning(editorSite, position) ?? meaningOfFile(editorSite, position.file)
  if (!meaning) return []
  switch (meaning.kind) {
    case 'entry':
      return [placeOfEntry(editorSite, meaning.entry), ...usesOfEntry(editorSite, meaning.entry)]
    case 'file':
      return usesOfFile(editorSite, meaning.path)
    default: {
      const named = await placesInConfiguration(editorSite, meaning.symbol, around)
      return [...named.map(({ place }) => place), ...usesOfSymbol(editorSite, meaning, around)]
    }
  }
}

/** The entry that a file is. */
export function meaningOfFile(
  { entriesIn, contentPath }: EditorSite,
  file: string,
): Extract<Meaning, { kind: 'entry' }> | undefined {
  const entries = entriesIn(contentPath(file) ?? '')
  const [entry] = entries
  return entry && entries.length === 1 && entry.recordPath.length === 0
    ? { kind: 'entry', entry, span: [0, 0] }
    : undefined
}

function usesOfEntry(editorSite: EditorSite, entry: LinkedEntry): Place[] {
  const name = qualifiedId(entry)
  return editorSite.entries.flatMap((other) => [
    ...other.links.flatMap((link) => (qualifiedId(link) === name ? [other.locate(link.path)] : [])),
    ...linksTo(editorSite, other, (href) => {
      const target = href.startsWith('#') ? undefined : editorSite.site.checked.resolveLink(href, other)
      return target !== undefined && 'page' in target && qualifiedId(target.page) === name
    }),
  ])
}

function linksTo(editorSite: EditorSite, entry: LinkedEntry, leads: (href: string) => boolean): Place[] {
  const addresses = [entry.body?.summary, ...entry.texts.map(({ summary }) => summary)].flatMap(
    (one) => one?.addresses ?? [],
  )
  if (!addresses.some(leads)) return []
  const { file } = entry.locate([])
  return linksIn(editorSite, file).flatMap(({ href, span, entry: holder }) =>
    holder === entry && leads(href) ? [{ file, span }] : [],
  )
}

function usesOfFile(editorSite: EditorSite, path: string): Place[] {
  return editorSite.entries.flatMap((entry) =>
    linksTo(editorSite, entry, (href) => {
      const target = editorSite.site.checked.resolveLink(href, entry)
      return target.kind === 'asset' && target.file === path
    }),
  )
}

/** Where content has a field, or a word of a choice. */
function usesOfSymbol(
  { model, site }: EditorSite,
  meaning: Extract<Meaning, { kind: 'field' | 'choice' }>,
  { textOf }: Surrounding,
): Place[] {
  const [field = '', word] = meaning.symbol.split('=')
  const documents = new Map<string, unknown>()
  return site.checked.collections.flatMap(({ collection, entries }) => {
    const level = collectionLevel(model, collection.name)
    return entries.flatMap((entry) => {
      const { file } = entry.locate([])
      if (!level || 'implicit' in entry.source) return []
      if (!documents.has(file))
        documents.set(file, formatOf(file, model.endings)?.read({ file, text: textOf(file) ?? '' }, {}).document)
      const document = documents.get(file) as
        | {
            value: unknown
            locate(path: readonly (string | number)[], part: 'key' | 'value'): readonly [number, number]
          }
        | undefined
      if (!document) return []
      const value = asGroup(valueAt(document.value, entry.recordPath), collection)
      return takeApart(model, level, { value, path: entry.recordPath }).fields.flatMap((one): Place[] => {
        if (one.symbol !== field) return []
        if (word !== undefined) return one.value === word ? [{ file, span: document.locate(one.path, 'value') }] : []
        return one.hasKey ? [{ file, span: document.locate(one.path, 'key') }] : []
      })
    })
  })
}
