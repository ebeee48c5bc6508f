import type { Refusal } from '../change/change.ts'
import { collectionSymbol } from '../change/model-names.ts'
import type { Diagnostic, Place } from '../diagnostics/diagnostic.ts'
import { entriesOf } from '../link/linked-entries.ts'
import type { SettingStep } from '../schema/settings-reader.ts'
import { refuseTarget, resolveTarget, type Target } from './change/resolve-target.ts'
import { locateSetting } from './configuration/locate-setting.ts'
import { asDefinitions, type Removal, type Subject } from './impact/effects.ts'
import { removeEntry, removeFiles, usesOfCollection } from './impact/entry-removal.ts'
import { fieldsThatLeadTo, removeBlock, removeChoice, removeField } from './impact/field-removal.ts'
import { functionsWithText } from './impact/functions.ts'
import { readText } from './read-text.ts'
import type { SiteOptions, SiteReport } from './site-report.ts'

/** A removal and its effects. */
export interface Impact extends SiteReport, Removal {
  /** Files, and entries in them, that could not be looked into because of errors: more may depend on it there. */
  readonly unread: readonly string[]
}

/** An impact, or why there is none: nothing has that name, or the configuration is wrong. */
export type ImpactAnswer = Impact | (SiteReport & Refusal)

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
  const { report, checked, model, listing, memory } = await examineSite({ ...examined, isShared: true })
  if (!model) return { ...report, refused: 'The configuration has errors' }
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
      const { report: other } = await examineSite({
        ...examined,
        without,
        seed: { memory, changed: new Set() },
        isShared: true,
      })
      return other.diagnostics.filter((problem) => !there.has(diagnosticKey(problem)))
    },
    async settingPlace(path: readonly SettingStep[]): Promise<Place> {
      return { file, span: await locateSetting(text, path) }
    },
  }
  const found = await remove(subject, target)
  if (!found) return { ...report, ...refuseTarget(subject, target) }
  return { ...report, ...found, unread: unreadOf(report.diagnostics, subject) }
}

async function remove(subject: Subject, target: string): Promise<Removal | undefined> {
  const found = resolveTarget(subject, target)
  switch (found?.kind) {
    case undefined:
      return undefined
    case 'entry':
      return removeEntry(subject, found.collection, found.id)
    case 'file': {
      const { path } = found
      const entry = entriesOf(subject).find(({ source }) => source.file === path && source.pointer === '')
      return entry ? removeEntry(subject, entry.collection, entry.id) : removeFiles(subject, path, [path])
    }
    case 'folder':
      return removeFiles(
        subject,
        found.path,
        subject.files.filter((file) => file.startsWith(`${found.path}/`)),
      )
    case 'collection':
      return removeCollection(subject, found.name)
    case 'block':
      return removeBlock(subject, found.name, [])
    case 'field':
    case 'choice':
      return removePart(subject, found)
  }
}

/** A field of a collection or a block, or a value of one. */
async function removePart(
  subject: Subject,
  { owner, names, ...rest }: Extract<Target, { kind: 'field' | 'choice' }>,
): Promise<Removal | undefined> {
  const collection = subject.model.collections.find(({ name }) => collectionSymbol(name) === owner)
  if (!collection) return rest.kind === 'field' ? removeBlock(subject, owner.slice('blocks.'.length), names) : undefined
  return rest.kind === 'field'
    ? removeField(subject, collection, names)
    : removeChoice(subject, collection, { names, choice: rest.choice })
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
