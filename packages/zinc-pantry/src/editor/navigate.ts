import { locateProperty } from '../body/body-summary.ts'
import { blockLevel, choiceSymbol, fieldSymbol, type ModelSymbol } from '../change/model-names.ts'
import type { Place, Span } from '../diagnostics/diagnostic.ts'
import { isSameEntry, qualifiedId } from '../link/pages.ts'
import type { PathSegment } from '../read/document.ts'
import type { Model } from '../schema/model.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { findOccurrences, type Surrounding } from './configuration-names.ts'
import type { EditorSite } from './editor-site.ts'
import { findMeaning, type Meaning } from './find-meaning.ts'
import { linksIn, type Position } from './look-at.ts'
import { readParts } from './written-parts.ts'

/** Where what a position means is declared: an entry, a file, or a field in the configuration. */
export async function findDefinition(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<readonly Place[]> {
  const meaning = await findMeaning(editorSite, position, around)
  if (!meaning) return []
  switch (meaning.kind) {
    case 'entry':
      return [meaning.entry.locate([])]
    case 'heading':
      return [{ file: position.file, span: meaning.span }]
    case 'file':
      return [{ file: `${editorSite.model.content}/${meaning.path}`, span: [0, 0] }]
    default:
      return (
        await findOccurrences(editorSite, (one) => one.symbol === meaning.symbol && one.isDeclaration, around)
      ).map(({ place }) => place)
  }
}

/** Everywhere that what a position means is used, with where it is declared. */
export async function findReferences(
  editorSite: EditorSite,
  position: Position,
  around: Surrounding,
): Promise<readonly Place[]> {
  const meaning = (await findMeaning(editorSite, position, around)) ?? meaningOfFile(editorSite, position.file)
  if (!meaning) return []
  switch (meaning.kind) {
    case 'entry':
      return [meaning.entry.locate([]), ...usesOfEntry(editorSite, meaning.entry)]
    case 'heading':
      return [
        { file: position.file, span: meaning.span },
        ...usesOfHeading(editorSite, meaning.entry, meaning.heading.id),
      ]
    case 'file':
      return usesOfFile(editorSite, meaning.path)
    default: {
      const named = await findOccurrences(editorSite, (one) => one.symbol === meaning.symbol, around)
      return [...named.map(({ place }) => place), ...usesOfSymbol(editorSite, meaning.symbol, around)]
    }
  }
}

/** The entry that a file is. */
function meaningOfFile(
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

/** The links that lead to a heading. */
function usesOfHeading(editorSite: EditorSite, entry: LinkedEntry, id: string): Place[] {
  return editorSite.entries.flatMap((other) =>
    linksTo(editorSite, other, (href) => {
      if (href.startsWith('#')) return other === entry && href === `#${id}`
      const target = editorSite.site.checked.resolveLink(href, other)
      return 'page' in target && 'fragment' in target && target.fragment === id && isSameEntry(target.page, entry)
    }),
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

/** Where content has a field, a word of a choice, or a block. */
function usesOfSymbol(editorSite: EditorSite, symbol: ModelSymbol, { textOf }: Surrounding): Place[] {
  const { model, entries, site } = editorSite
  const inData = [...site.checked.owners.keys()].flatMap((file) => {
    const read = readParts(editorSite, { file, text: textOf(file) ?? '' })
    if (!read) return []
    const place = (path: readonly PathSegment[], part: 'key' | 'value'): Place => ({
      file,
      span: read.document.locate(path, part),
    })
    return read.records.flatMap(({ fields, blocks }) => [
      ...fields.flatMap((one) => {
        if (one.symbol === symbol) return one.hasKey ? [place(one.path, 'key')] : []
        const isWord = typeof one.value === 'string' && choiceSymbol(one.symbol, one.value) === symbol
        return isWord ? [place(one.path, 'value')] : []
      }),
      ...blocks.flatMap((one) => (one.symbol === symbol ? [place(one.path, 'value')] : [])),
    ])
  })
  return [...inData, ...entries.flatMap((entry) => usesInBody(model, entry, symbol))]
}

/** Where a body uses a block, or has a property of one or a word of it. */
function usesInBody(model: Model, { body }: LinkedEntry, symbol: ModelSymbol): Place[] {
  if (!body) return []
  const place = ([start, end]: Span): Place => ({
    file: body.file,
    span: [start + body.startOffset, end + body.startOffset],
  })
  return body.summary.uses.flatMap((use) => {
    const level = use.block === undefined ? undefined : blockLevel(model, use.block)
    if (!level) return []
    if (level.owner === symbol) return [place(use.span)]
    return Object.entries(level.fields).flatMap(([name, field]) => {
      const own = fieldSymbol(level.owner, [name])
      const key = writtenKey(name, field)
      if (!use.places.some((one) => one.name === key)) return []
      if (own === symbol) return [place(locateProperty(use, key, 'key'))]
      const value = use.values[key]
      return typeof value === 'string' && choiceSymbol(own, value) === symbol
        ? [place(locateProperty(use, key, 'value'))]
        : []
    })
  })
}
