import type { Place } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import { settingPath } from '../diagnostics/words.ts'
import { findLinks } from '../link/check-links.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { Field } from '../schema/field.ts'
import { allFields, type CollectionModel, type Model, visitFields } from '../schema/model.ts'
import type { SettingStep } from '../schema/settings-reader.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { locateSetting } from './locate-setting.ts'
import { readText } from './read-text.ts'
import type { SiteOptions, SiteReport } from './site.ts'

/** Something that would break, or be lost, and where it stands. */
export interface Effect {
  /** A `definition` stands in the configuration, a `use` in content. */
  readonly kind: 'definition' | 'use'
  /** What happens to it, in words. */
  readonly words: string
  readonly place: Place
}

/** What removing something would do. */
export interface Impact extends SiteReport {
  readonly target: 'entry' | 'field' | 'collection'
  /** What would be removed, in words. */
  readonly words: string
  readonly effects: readonly Effect[]
}

/** An impact, or why there is none: nothing has that name, or the configuration is wrong. */
export type ImpactAnswer = Impact | (SiteReport & { readonly suggestion: string | undefined })

interface LeadingLink {
  readonly id: string
  readonly place: Place
}

interface Subject {
  readonly model: Model
  readonly collections: readonly LinkedCollection[]
  /** Links of bodies and fields that lead to entries. */
  readonly linksTo: (from: LinkedEntry, isTarget: (entry: LinkedEntry) => boolean) => readonly LeadingLink[]
  readonly settingPlace: (path: readonly SettingStep[]) => Promise<Place>
}

/**
 * Lists everything that would break if an entry (`huts/gable`), a field (`huts.beds`) or a collection (`huts`)
 * were removed. Nothing is written.
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
  const { report, checked, model } = await examineSite({ ...options, drafts: true, cache: false })
  if (!model) return { ...report, suggestion: undefined }
  const { host, configurationFile: file } = options
  const text = readText(host, file) ?? ''
  const settingPlace = async (path: readonly SettingStep[]): Promise<Place> => ({
    file,
    span: await locateSetting(text, path),
  })
  const linksTo: Subject['linksTo'] = (from, isTarget) => {
    const targetOf = (href: string): LinkedEntry | undefined => {
      const leadsTo = checked.resolveLink(href, from)
      return leadsTo.kind === 'entry' || leadsTo.kind === 'no-page' ? leadsTo.entry : undefined
    }
    const passOver = (href: string): boolean => {
      const entry = targetOf(href)
      return !entry || entry === from || !isTarget(entry)
    }
    return findLinks(from, passOver, checked.textOf).map(({ href, place }) => ({ id: targetOf(href)?.id ?? '', place }))
  }
  const subject: Subject = { model, collections: checked.collections, linksTo, settingPlace }
  const found =
    (await impactOfEntry(subject, target)) ??
    (await impactOfField(subject, target)) ??
    (await impactOfCollection(subject, target))
  if (found) return { ...report, ...found }
  return { ...report, suggestion: suggestNearest(target, targetsOf(subject)) }
}

type Found = Pick<Impact, 'target' | 'words' | 'effects'>

function targetsOf({ collections }: Subject): string[] {
  return collections.flatMap(({ collection, entries }) => [
    collection.name,
    ...Object.keys(allFields(collection)).map((name) => `${collection.name}.${name}`),
    ...entries.map(({ id }) => `${collection.name}/${id}`),
  ])
}

const entriesOf = ({ collections }: Subject): LinkedEntry[] => collections.flatMap(({ entries }) => entries)

async function impactOfEntry(subject: Subject, target: string): Promise<Found | undefined> {
  const slash = target.indexOf('/')
  const [name, id] = [target.slice(0, slash), target.slice(slash + 1)]
  const one = subject.collections.find(({ collection }) => collection.name === name)
  if (slash < 1 || !one?.entries.some((entry) => entry.id === id)) return undefined
  const isTarget = (other: { readonly collection: string; readonly id: string }): boolean =>
    other.collection === name && other.id === id
  const uses = entriesOf(subject).flatMap((entry): Effect[] => {
    if (isTarget(entry)) return []
    const from = `${entry.collection}/${entry.id}`
    return [
      ...entry.links.filter(isTarget).map(({ path }): Effect => {
        return { kind: 'use', words: `${from} refers to it in ${path.join('.')}`, place: entry.locate(path) }
      }),
      ...subject
        .linksTo(entry, isTarget)
        .map(({ place }): Effect => ({ kind: 'use', words: `${from} links to it`, place })),
    ]
  })
  const single: Effect[] = one.collection.single
    ? [
        {
          kind: 'definition',
          words: `${name} must have exactly one entry`,
          place: await subject.settingPlace(['collections', name, 'single']),
        },
      ]
    : []
  const words = `One entry, ${id} of ${name}. The collection and its definition stay`
  return { target: 'entry', words, effects: [...single, ...uses] }
}

async function impactOfField(subject: Subject, target: string): Promise<Found | undefined> {
  const [name = '', ...rest] = target.split('.')
  const one = subject.collections.find(({ collection }) => collection.name === name)
  const field = rest.join('.')
  if (!one || !Object.hasOwn(allFields(one.collection), field)) return undefined
  const definitions = await Promise.all(
    settingsThatName(subject.model, one.collection, field).map(
      async ({ path, words }): Promise<Effect> => ({
        kind: 'definition',
        words,
        place: await subject.settingPlace(path),
      }),
    ),
  )
  const isWritten = Object.hasOwn(one.collection.fields, field)
  const uses = one.entries
    .filter(({ data }) => isWritten && (data?.[field] ?? null) !== null)
    .filter((entry) => entry.locate([field]).span[0] !== entry.locate([]).span[0] || one.entries.length === 1)
    .map(
      (entry): Effect => ({
        kind: 'use',
        words: `${name}/${entry.id} has a value for it`,
        place: entry.locate([field]),
      }),
    )
  const words = `The definition of the field ${field} of ${name}, for all its entries`
  return { target: 'field', words, effects: [...definitions, ...uses] }
}

interface NamedSetting {
  readonly path: SettingStep[]
  readonly words: string
}

/** Settings of a site that name a field. */
function settingsThatName(model: Model, { name, ...collection }: CollectionModel, field: string): NamedSetting[] {
  const base = ['collections', name]
  const found: NamedSetting[] = []
  const add = (path: SettingStep[]): void => void found.push({ path, words: `${settingPath(path)} names it` })
  for (const [position, fields] of collection.unique.entries())
    if (fields.includes(field)) add([...base, 'unique', position])
  for (const key of ['draft', 'from', 'until'] as const)
    if (collection.publication?.[key] === field) add([...base, 'publication', key])
  for (const key of ['parent', 'createFrom', 'revised'] as const) if (collection[key] === field) add([...base, key])
  if (collection.order.some((key) => key.field === field)) add([...base, 'order'])
  for (const [other, { from }] of Object.entries(collection.derived))
    if (other !== field && mentions(from, field)) add([...base, 'derive', other])
  for (const [position, rule] of collection.rules.entries())
    if (mentions(rule, field)) add([...base, 'rules', position])
  eachField(model, (inner, path) => {
    const leads = inner.targets?.includes(name) === true
    const by = (inner.options as { by?: string }).by
    if (leads && inner.kind === 'ref' && by === field) add([...path, 'by'])
    if (leads && inner.kind === 'reverse' && inner.through?.split('.')[0] === field) add(path)
  })
  return found
}

/** Functions are read as text: what they name, they may read. */
const mentions = (code: (...given: never[]) => unknown, field: string): boolean =>
  new RegExp(`[.{,\\s'"\\[]${field.replace(/\W/g, '\\$&')}\\b`).test(String(code))

function eachField(model: Model, visit: (field: Field, path: SettingStep[]) => void): void {
  for (const { name, fields, derived } of model.collections) {
    visitFields(fields, (field, path) => visit(field, ['collections', name, 'fields', ...path]))
    for (const [key, { field }] of Object.entries(derived)) visit(field, ['collections', name, 'derive', key])
  }
  for (const [name, fields] of model.blocks)
    visitFields(fields, (field, path) => visit(field, ['blocks', name, 'fields', ...path]))
}

async function impactOfCollection(subject: Subject, target: string): Promise<Found | undefined> {
  const one = subject.collections.find(({ collection }) => collection.name === target)
  if (!one) return undefined
  const paths: NamedSetting[] = []
  eachField(subject.model, (field, path) => {
    if (field.targets?.includes(target) && path[1] !== target)
      paths.push({ path, words: `${settingPath(path)} leads to it` })
  })
  const definitions = await Promise.all(
    paths.map(
      async ({ path, words }): Promise<Effect> => ({
        kind: 'definition',
        words,
        place: await subject.settingPlace(path),
      }),
    ),
  )
  const own = one.entries.map(
    (entry): Effect => ({ kind: 'use', words: `${target}/${entry.id} is lost`, place: entry.locate([]) }),
  )
  const isTarget = ({ collection }: { readonly collection: string }): boolean => collection === target
  const uses = entriesOf(subject).flatMap((entry): Effect[] => {
    if (isTarget(entry)) return []
    const from = `${entry.collection}/${entry.id}`
    return [
      ...entry.links.filter(isTarget).map(({ id, path }): Effect => {
        return { kind: 'use', words: `${from} refers to ${id} in ${path.join('.')}`, place: entry.locate(path) }
      }),
      ...subject
        .linksTo(entry, isTarget)
        .map(({ id, place }): Effect => ({ kind: 'use', words: `${from} links to ${id}`, place })),
    ]
  })
  const words = `The definition of the collection ${target}, with all its entries`
  return { target: 'collection', words, effects: [...definitions, ...own, ...uses] }
}
