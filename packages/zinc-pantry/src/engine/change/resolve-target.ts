import type { Refusal } from '../../change/change.ts'
import {
  blockSymbol,
  choiceSymbol,
  choicesOf,
  collectionSymbol,
  fieldOf,
  fieldSymbol,
  type ModelSymbol,
  type Owner,
} from '../../change/model-names.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import type { LinkedCollection } from '../../link/link-entry.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import { allFields, type Model, visitFields } from '../../schema/model.ts'
import { splitName, withoutFront } from './target.ts'

/** A thing of a site that a person can name. */
export type Target =
  | { readonly kind: 'entry'; readonly collection: string; readonly id: string }
  | { readonly kind: 'collection'; readonly symbol: ModelSymbol; readonly name: string }
  | { readonly kind: 'block'; readonly symbol: ModelSymbol; readonly name: string }
  | { readonly kind: 'field'; readonly symbol: ModelSymbol; readonly owner: Owner; readonly names: readonly string[] }
  | {
      readonly kind: 'choice'
      readonly symbol: ModelSymbol
      readonly owner: Owner
      readonly names: readonly string[]
      readonly choice: string
    }
  /** Relative to the content folder. */
  | { readonly kind: 'file' | 'folder'; readonly path: string }

/** A site in which things have names. */
export interface NamedSite {
  readonly model: Model
  readonly collections: readonly LinkedCollection[]
  /** Files of the content folder, relative to it. */
  readonly files: readonly string[]
}

/**
 * Finds what a name means: an entry (`huts/gable`), a collection (`huts`), a field (`huts.beds`, `callout.tone`), a value of a choice
 * (`trails.grade.hard`), a block (`callout`), a file or a folder of the content (`pictures/bell.png`).
 */
export function resolveTarget(site: NamedSite, target: string): Target | undefined {
  return findEntry(site, target) ?? findFile(site, target) ?? findInModel(site.model, target)
}

function findEntry({ collections }: NamedSite, target: string): Target | undefined {
  const { collection, id } = splitName(target)
  const own = collections.find((one) => one.collection.name === collection)
  return target.includes('/') && own?.entries.some((entry) => entry.id === id)
    ? { kind: 'entry', collection, id }
    : undefined
}

function findFile({ files, model }: NamedSite, target: string): Target | undefined {
  for (const path of [target, withoutFront(target, `${model.content}/`)]) {
    if (files.includes(path)) return { kind: 'file', path }
    const folder = path.replace(/\/$/, '')
    const isFolder = target.includes('/') && files.some((file) => file.startsWith(`${folder}/`))
    if (isFolder) return { kind: 'folder', path: folder }
  }
  return undefined
}

function findInModel(model: Model, target: string): Target | undefined {
  const [name = '', ...names] = target.split('.')
  const owners: Target[] = []
  if (model.collections.some((one) => one.name === name))
    owners.push({ kind: 'collection', symbol: collectionSymbol(name), name })
  if (model.blocks.has(name)) owners.push({ kind: 'block', symbol: blockSymbol(name), name })
  if (names.length === 0) return owners[0]
  return owners
    .map((owner) => findPart(model, (owner as { symbol: Owner }).symbol, names))
    .find((one) => one !== undefined)
}

/** A field of an owner, or a value of a choice in it. */
function findPart(model: Model, owner: Owner, names: readonly string[]): Target | undefined {
  if (fieldOf(model, owner, names)) return { kind: 'field', symbol: fieldSymbol(owner, names), owner, names }
  for (let end = names.length - 1; end > 0; end--) {
    const [holder, choice] = [names.slice(0, end), names.slice(end).join('.')]
    const found = fieldOf(model, owner, holder)
    if (!found || !choicesOf(found.field).includes(choice)) continue
    return { kind: 'choice', symbol: choiceSymbol(fieldSymbol(owner, holder), choice), owner, names: holder, choice }
  }
  return undefined
}

/** Why there is nothing of a name, and what is there. */
export function refuseTarget(site: NamedSite, target: string): Refusal {
  const suggestion = suggestTarget(site, target)
  const help =
    suggestion === undefined
      ? 'Name huts (a collection), huts/gable (an entry), huts.beds (a field), trails.grade.hard (a choice), callout (a block) or pictures/bell.png (a file)'
      : `Did you mean "${suggestion}"?`
  return { refused: `Nothing is called "${target}"`, help }
}

/** The nearest name, of the kinds that a target looks like. */
function suggestTarget({ model, collections, files }: NamedSite, target: string): string | undefined {
  const entries = entriesOf({ collections }).map(qualifiedId)
  const fields = model.collections.flatMap((one) => fieldNames(one.name, allFields(one)))
  const parts = [...model.blocks].flatMap(([name, own]) => fieldNames(name, own))
  const names = [...model.collections.map(({ name }) => name), ...model.blocks.keys()]
  const likely = target.includes('/')
    ? [...entries, ...files]
    : target.includes('.')
      ? [...fields, ...parts, ...files]
      : names
  return (
    suggestNearest(target, likely) ??
    (target.includes('/') ? undefined : suggestNearest(target, [...names, ...entries]))
  )
}

/** All fields of an owner by their dotted paths. */
function fieldNames(owner: string, fields: Parameters<typeof visitFields>[0]): string[] {
  const found: string[] = []
  visitFields(fields, (_, path) => {
    found.push([owner, ...path.filter((step) => step !== 'item')].join('.'))
  })
  return found
}
