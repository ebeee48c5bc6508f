import { locateProperty } from '../body/body-summary.ts'
import { addTo } from '../diagnostics/add-to.ts'
import { appendAll } from '../diagnostics/append-all.ts'
import { isGroup, valueAt } from '../diagnostics/own-key.ts'
import { qualifiedId } from '../link/pages.ts'
import type { PathSegment } from '../read/document.ts'
import { childrenOf } from '../schema/kinds.ts'
import { writtenKey } from '../schema/written-key.ts'
import type { Attention, ChangeStep } from './change.ts'
import type { EditedSource, TextEdit } from './edited-source.ts'
import type { ConfigurationNames } from './find-names.ts'
import { commaBefore } from './line-places.ts'
import { blockLevel, choiceSymbol, collectionLevel, fieldSymbol, type ModelSymbol, wordsOf } from './model-names.ts'
import type { Rewritten } from './move-files.ts'
import { removeItem } from './remove-item.ts'
import type { SourceOf } from './source.ts'
import type { ChangeSubject } from './subject.ts'
import { cellStyleOf, cellsOf, headingsOf } from './write-cell.ts'
import { type PlannedValue, writeValues } from './write-values.ts'
import { takeApart, type WrittenField } from './written-fields.ts'

/** Takes what is declared, and the settings that name it one by one, out of the configuration. */
export function removeFromConfiguration(
  { occurrences, hidden }: ConfigurationNames,
  symbol: ModelSymbol,
  textOf: (file: string) => string | undefined,
): Rewritten {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const words = wordsOf(symbol)
  for (const one of occurrences.filter((other) => other.symbol === symbol)) {
    const { file } = one.place
    const text = textOf(file)
    if (one.whole && text !== undefined && (one.isDeclaration || one.isListed))
      steps.push({
        kind: 'edit',
        file,
        span: spanOfItem(text, one.whole),
        text: '',
        reason: one.isDeclaration ? `${words} is not declared any more` : `${words} is not named here any more`,
      })
    else attention.push({ place: one.place, words: `${words} is named here` })
  }
  for (const { place } of hidden.filter((other) => other.symbol === symbol))
    attention.push({ place, words: `${words} is named here by code` })
  return { steps, attention }
}

/** The span of an item of a list or an object, with its comma and, where it has lines for itself, those. */
function spanOfItem(text: string, [start, end]: readonly [number, number]): readonly [number, number] {
  const behind = /^\s*,/.exec(text.slice(end))?.[0] ?? ''
  const lineStart = text.lastIndexOf('\n', start - 1) + 1
  const isFirst = /^[ \t]*$/.test(text.slice(lineStart, start))
  if (behind !== '' || isFirst) {
    const stop = end + behind.length
    const rest = /^[ \t]*(?:\/\/[^\n]*)?\r?\n/.exec(text.slice(stop))?.[0]
    if (isFirst && rest !== undefined) return [lineStart, stop + rest.length]
    const space = /^[ \t]*/.exec(text.slice(stop))?.[0].length ?? 0
    return [start, stop + space]
  }
  return [commaBefore(text, start) ?? start, end]
}

/** Takes values of a field, of a choice or of a block out of all that is written. */
export function removeFromContent(subject: ChangeSubject, symbol: ModelSymbol, sourceOf: SourceOf): Rewritten {
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const values = new Map<EditedSource, PlannedValue[]>()
  const columns = new Map<string, { readonly source: EditedSource; readonly names: readonly PathSegment[] }>()
  for (const { collection, entries } of subject.collections) {
    const level = collectionLevel(subject.model, collection.name)
    for (const entry of entries) {
      const source = 'implicit' in entry.source || !level ? undefined : sourceOf(entry)
      if (!source || !level) continue
      const { recordPath: path } = entry
      const parts = takeApart(subject.model, level, { value: valueAt(source.document.value, path), path })
      const blocks = parts.blocks.filter((one) => one.symbol === symbol).map(({ path: at }) => at.slice(0, -1))
      const found = parts.fields.flatMap((one) => pathsToRemove(one, symbol))
      for (const at of [...found, ...blocks]) {
        if (source.format.hasCells && !isChoice(symbol)) {
          const names = at.slice(path.length)
          columns.set(`${source.file} ${names.join('.')}`, { source, names })
          continue
        }
        const place = { file: source.file, span: source.document.locate(at, 'key') }
        const byHand = { place, words: `${at.join('.')} is to be taken away by hand` }
        const reason = `${wordsOf(symbol)} goes`
        if (typeof at.at(-1) !== 'number') {
          addTo(values, source, { path: at, value: undefined, reason, byHand })
          continue
        }
        const edit = removeItem(source, at)
        if (edit) steps.push({ kind: 'edit', file: source.file, ...edit, reason })
        else attention.push(byHand)
      }
      appendAll(attention, usesInBody(subject, entry, symbol))
    }
  }
  for (const { source, names } of columns.values())
    for (const edit of removeColumn(source, names.map(String)))
      steps.push({ kind: 'edit', file: source.file, ...edit, reason: `the column ${names.join('.')} goes` })
  const written = writeValues(values, { isWhole: true })
  return { steps: [...steps, ...written.steps], attention: [...attention, ...written.attention] }
}

const isChoice = (symbol: ModelSymbol): boolean => symbol.includes('=')

/** Where a value stands that goes: a field by its key, a word of a choice by itself. */
function pathsToRemove(
  { symbol: own, field, value, path, hasKey }: WrittenField,
  symbol: ModelSymbol,
): readonly (readonly PathSegment[])[] {
  if (own === symbol) return hasKey ? [path] : []
  if (!isChoice(symbol) || !symbol.startsWith(`${own}=`)) return []
  const word = symbol.slice(own.length + 1)
  const { keys, item } = childrenOf(field)
  if (keys && isGroup(value) && Object.hasOwn(value, word)) return [[...path, word]]
  return !item && value === word ? [path] : []
}

/** Blocks in bodies are for a person to take out. */
function usesInBody(
  { model }: ChangeSubject,
  entry: Parameters<SourceOf>[0],
  symbol: ModelSymbol,
): readonly Attention[] {
  const { body } = entry
  if (!body) return []
  return body.summary.uses.flatMap((use): Attention[] => {
    const level = use.block === undefined ? undefined : blockLevel(model, use.block)
    if (!level) return []
    const named = Object.entries(level.fields).flatMap(([name, field]) => {
      const own = fieldSymbol(level.owner, [name])
      const key = writtenKey(name, field)
      const value = use.values[key]
      const isMeant = own === symbol || (typeof value === 'string' && choiceSymbol(own, value) === symbol)
      return isMeant && use.places.some((place) => place.name === key) ? [locateProperty(use, key, 'key')] : []
    })
    const spans = level.owner === symbol ? [use.span] : named
    return spans.map(([start, end]) => {
      const place = { file: body.file, span: [start + body.startOffset, end + body.startOffset] as const }
      return { place, words: `${qualifiedId(entry)} uses it in its body, where it is to be taken away by hand` }
    })
  })
}

/** The edits that take the columns out of a table whose headings begin with some names. */
function removeColumn(source: EditedSource, names: readonly string[]): readonly TextEdit[] {
  const { delimiter } = cellStyleOf(source)
  const rows = cellsOf(source)
  const column = names.join('.')
  const wanted = headingsOf(source, rows).flatMap((name, at) =>
    name === column || name.startsWith(`${column}.`) ? [at] : [],
  )
  return rows.flatMap((row) =>
    wanted.flatMap((at): TextEdit[] => {
      const span = row[at]?.span
      if (!span) return []
      return [
        { span: at === 0 ? [span[0], span[1] + delimiter.length] : [span[0] - delimiter.length, span[1]], text: '' },
      ]
    }),
  )
}
