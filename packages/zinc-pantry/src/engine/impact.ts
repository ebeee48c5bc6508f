import type { Diagnostic, Place } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import { fieldAt } from '../schema/field-path.ts'
import { kindOf } from '../schema/kinds.ts'
import { allFields, type CollectionModel, visitFields } from '../schema/model.ts'
import type { SettingStep } from '../schema/settings-reader.ts'
import { asDefinitions, type Removal, type Subject } from './impact/effects.ts'
import { removeEntry, removeFile, usesOfCollection } from './impact/entry-removal.ts'
import { fieldsThatLeadTo, removeBlock, removeChoice, removeField } from './impact/field-removal.ts'
import { functionsWithText } from './impact/functions.ts'
import { locateSetting } from './locate-setting.ts'
import { readText } from './read-text.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A removal and its effects. */
export interface Impact extends SiteReport, Removal {
  /** Files, and entries in them, that could not be looked into because of errors: more may depend on it there. */
  readonly unread: readonly string[]
}

/** An impact, or why there is none: nothing has that name, or the configuration is wrong. */
export type ImpactAnswer = Impact | (SiteReport & { readonly suggestion: string | undefined })

/**
 * Lists everything that would break if something were removed: an entry (`huts/gable`), a field (`huts.beds`,
 * `trails.legs.hours`), a value of a choice (`trails.grade.hard`), a collection (`huts`), a block (`callout`), or a file of
 * the content folder (`pictures/bell.png`). Of an entry or a file these are the problems that a check finds in the content
 * without it. Functions of the configuration are read as text. Nothing is written.
 *
 * @example
 * ```ts
 * import { createNodeHost, findImpact } from 'zinc-pantry/engine'
 *
 * const answer = await findImpact({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' }, 'huts/gable')
 * if ('effects' in answer) for (const { words } of answer.effects) console.log(words)
 * ```
 */
export async function findImpact(options: SiteOptions, target: string): Promise<ImpactAnswer> {
  const { examineSite } = await import('./run-site.ts')
  // Links of bodies are looked at one by one, which takes their texts.
  const examined = { ...options, drafts: true, cache: false }
  const { report, checked, model, listing } = await examineSite(examined)
  if (!model) return { ...report, suggestion: undefined }
  const { host, configurationFile: file } = options
  const text = readText(host, file) ?? ''
  const diagnosticKey = ({ code, file: at, span }: Diagnostic): string => `${code} ${at} ${span[0]}`
  const subject: Subject = {
    model,
    checked,
    collections: checked.collections,
    files: listing,
    async problemsWithout(without) {
      const there = new Set(report.diagnostics.map(diagnosticKey))
      const { report: other } = await examineSite({ ...examined, without })
      return other.diagnostics.filter((problem) => !there.has(diagnosticKey(problem)))
    },
    async settingPlace(path: readonly SettingStep[]): Promise<Place> {
      return { file, span: await locateSetting(text, path) }
    },
  }
  const found = await remove(subject, target)
  if (!found) return { ...report, suggestion: suggestTarget(subject, target) }
  return { ...report, ...found, unread: unreadOf(report.diagnostics, subject) }
}

async function remove(subject: Subject, target: string): Promise<Removal | undefined> {
  const { model, collections, files } = subject
  const slash = target.indexOf('/')
  if (slash > 0) {
    const [name, id] = [target.slice(0, slash), target.slice(slash + 1)]
    const own = collections.find(({ collection }) => collection.name === name)
    if (own?.entries.some((entry) => entry.id === id)) return removeEntry(subject, name, id)
  }
  const entry = entriesOf(subject).find(({ source }) => source.file === target && source.pointer === '')
  if (entry) return removeEntry(subject, entry.collection, entry.id)
  if (files.includes(target)) return removeFile(subject, target)
  const [head = '', ...names] = target.split('.')
  const collection = model.collections.find(({ name }) => name === head)
  if (collection) return names.length === 0 ? removeCollection(subject, head) : removePart(subject, collection, names)
  const block = model.blocks.get(head)
  if (!block || (names.length > 0 && !fieldAt(block, names, model.blocks))) return undefined
  return removeBlock(subject, head, names)
}

/** A field of a collection, or a value of one. */
async function removePart(
  subject: Subject,
  collection: CollectionModel,
  names: readonly string[],
): Promise<Removal | undefined> {
  const { blocks } = subject.model
  const fields = allFields(collection)
  if (fieldAt(fields, names, blocks)) return removeField(subject, collection, names)
  const choice = names.at(-1) ?? ''
  const holder = names.slice(0, -1)
  const found = fieldAt(fields, holder, blocks)
  if (!found || !kindOf(found).words?.(found).choices.includes(choice)) return undefined
  return removeChoice(subject, collection, { names: holder, choice })
}

async function removeCollection(subject: Subject, name: string): Promise<Removal> {
  const settings = [...fieldsThatLeadTo(subject.model, name), ...functionsWithText(subject.model, name)]
  const definitions = await asDefinitions(subject, settings)
  return {
    target: 'collection',
    words: `The definition of the collection ${name}, with all its entries`,
    effects: [...definitions, ...(await usesOfCollection(subject, name))],
  }
}

/** Files that could not be read whole, and entries with errors of their own, whose values are not known. */
function unreadOf(diagnostics: readonly Diagnostic[], subject: Subject): string[] {
  const known = new Set(entriesOf(subject).flatMap((entry) => (entry.data ? [entry.locate([]).file] : [])))
  const failed = entriesOf(subject).flatMap((entry) => (entry.data ? [] : [entry.locate([]).file]))
  const start = `${subject.model.content}/`
  const unread = diagnostics
    .filter(({ severity, file }) => severity === 'error' && file.startsWith(start) && !known.has(file))
    .map(({ file }) => file)
  return [...new Set([...failed, ...unread])].sort()
}

/** The nearest name, of the kinds that a target looks like. */
function suggestTarget(subject: Subject, target: string): string | undefined {
  const { model, collections, files } = subject
  const entries = entriesOf(subject).map(qualifiedId)
  const fields = collections.flatMap(({ collection }) => fieldNames(collection))
  const names = [...model.collections.map(({ name }) => name), ...model.blocks.keys()]
  const likely = target.includes('/') ? [...entries, ...files] : target.includes('.') ? [...fields, ...files] : names
  return (
    suggestNearest(target, likely) ??
    (target.includes('/') ? undefined : suggestNearest(target, [...names, ...entries]))
  )
}

/** All fields of a collection by their dotted paths. */
function fieldNames(collection: CollectionModel): string[] {
  const found: string[] = []
  visitFields(allFields(collection), (_, path) => {
    found.push([collection.name, ...path.filter((step) => step !== 'item')].join('.'))
  })
  return found
}
