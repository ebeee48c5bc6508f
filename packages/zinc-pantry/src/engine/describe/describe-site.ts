import type { Refusal } from '../../change/change.ts'
import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { largest } from '../../diagnostics/extremes.ts'
import type { LinkedCollection } from '../../link/link-entry.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { pageAddress, qualifiedId } from '../../link/pages.ts'
import type { AnyField } from '../../schema/any-field.ts'
import { childrenOf, expectedOf, kindOf, leadingOf } from '../../schema/kinds.ts'
import { allFields, type Model, visitFields } from '../../schema/model.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { KEYS_STEP } from '../../values/steps.ts'
import { refuseTarget, resolveTarget } from '../change/resolve-target.ts'
import type { Checked } from '../check.ts'
import type { SiteOptions, SiteReport } from '../site-report.ts'
import { describeFile, describePart, type PartDescription } from './describe-part.ts'

/** A field, for people. */
export interface FieldDescription {
  /** Names joined by dots. */
  readonly name: string
  /** The value that it expects, in words. */
  readonly expected: string
  readonly need: 'required' | 'optional' | 'default' | 'computed'
  readonly help: string | undefined
  /** The heading that it stands under. */
  readonly section: string | undefined
  /** Entries that have a value there. */
  readonly count: number
}

/** A collection, for people. */
export interface CollectionDescription {
  readonly name: string
  readonly description: string | undefined
  readonly section: string | undefined
  readonly files: readonly string[]
  readonly count: number
}

/** An entry, for people. */
export interface EntryDescription {
  readonly name: string
  readonly file: string
  readonly address: string | undefined
  /** The values by field, those that are absent left out. */
  readonly values: readonly (readonly [field: string, value: unknown])[]
  readonly refersTo: readonly (readonly [path: string, target: string])[]
  readonly referredFrom: readonly (readonly [entry: string, path: string])[]
  readonly linkedFrom: readonly string[]
  readonly problems: readonly Diagnostic[]
}

/** What there is in a site, in one of its collections, or in an entry. */
export type Description =
  | { readonly kind: 'site'; readonly collections: readonly CollectionDescription[] }
  | {
      readonly kind: 'collection'
      readonly collection: CollectionDescription
      readonly fields: readonly FieldDescription[]
      /** Fields that lead to it, such as `trails.region`. */
      readonly ledFrom: readonly string[]
    }
  | { readonly kind: 'entry'; readonly entry: EntryDescription }
  | { readonly kind: 'part'; readonly part: PartDescription }

/** A description, or that nothing has that name. */
export type DescriptionAnswer = SiteReport & ({ readonly description: Description } | Refusal)

/**
 * Describes a site for people: its collections; the fields of one (`huts`); an entry with its values, its problems, what it refers
 * to and what leads to it (`huts/gable`); a field, a word of a choice, a block or a file, and what uses it. Nothing is written.
 *
 * @example
 * ```ts
 * import { createNodeHost, describeSite } from 'zinc-pantry/engine'
 *
 * const answer = await describeSite({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' }, 'huts/gable')
 * if ('description' in answer && answer.description.kind === 'entry') console.log(answer.description.entry.refersTo)
 * ```
 */
export async function describeSite(options: SiteOptions, target?: string): Promise<DescriptionAnswer> {
  const { examineSite } = await import('../run-site.ts')
  const { report, checked, model, listing } = await examineSite({ ...options, drafts: true })
  if (!model) return { ...report, refused: 'The configuration has errors' }
  const described = checked.collections.map(describeCollection)
  if (target === undefined) return { ...report, description: { kind: 'site', collections: described } }
  const holder = checked.collections.find(({ collection }) => collection.name === target)
  if (holder)
    return {
      ...report,
      description: {
        kind: 'collection',
        collection: describeCollection(holder),
        fields: describeFields(holder),
        ledFrom: fieldsThatLeadTo(model, target),
      },
    }
  const site = { model, collections: checked.collections, files: listing }
  const found = resolveTarget(site, target)
  if (!found) return { ...report, ...refuseTarget(site, target) }
  const entry =
    found.kind === 'entry' &&
    entriesOf(checked).find((one) => one.collection === found.collection && one.id === found.id)
  if (entry) return { ...report, description: { kind: 'entry', entry: describeEntry(entry, checked, report) } }
  if ('path' in found) return { ...report, description: { kind: 'part', part: describeFile(found.path, checked) } }
  if (!('symbol' in found)) return { ...report, ...refuseTarget(site, target) }
  return { ...report, description: { kind: 'part', part: await describePart(found, { model, checked }, options) } }
}

function describeCollection({ collection, entries }: LinkedCollection): CollectionDescription {
  const { name, description, section, files } = collection
  return { name, description, section, files, count: new Set(entries.map(({ id }) => id)).size }
}

function describeFields({ collection, entries }: LinkedCollection): FieldDescription[] {
  const found: FieldDescription[] = []
  visitFields(allFields(collection), (field, path) => {
    const names = path.filter((step) => step !== 'item')
    const isItem = path.at(-1) === 'item'
    const {
      optional,
      default: absent,
      label,
      description,
      section,
    } = field.options as AnyField['options'] & {
      readonly default?: unknown
    }
    // What a list holds is told with the list.
    if (isItem || names.at(-1) === KEYS_STEP) return
    const { item } = childrenOf(field)
    const isComputed =
      kindOf(field).computed === true ||
      (names.length === 1 && names[0] !== undefined && Object.hasOwn(collection.derived, names[0]))
    found.push({
      name: names.join('.'),
      expected: item && field.kind === 'list' ? `list: ${expectedOf(item)}` : expectedOf(field),
      need: isComputed ? 'computed' : absent !== undefined ? 'default' : optional ? 'optional' : 'required',
      help: description ?? label,
      section,
      count: entries.filter((entry) => hasValue(entry.data, names)).length,
    })
  })
  return found
}

/** True where there is a value at a path of names, through lists. */
function hasValue(value: unknown, [name, ...rest]: readonly string[]): boolean {
  if (Array.isArray(value)) return value.some((item) => hasValue(item, name === undefined ? [] : [name, ...rest]))
  if (value === null || value === undefined) return false
  if (name === undefined) return true
  return hasValue((value as Readonly<Record<string, unknown>>)[name], rest)
}

function fieldsThatLeadTo({ collections }: Model, target: string): string[] {
  const found: string[] = []
  for (const { name, fields } of collections)
    visitFields(fields, (field, path) => {
      const leading = leadingOf(field)
      if (leading?.targets.includes(target) && leading.through === undefined)
        found.push([name, ...path.filter((step) => step !== 'item')].join('.'))
    })
  return [...new Set(found)]
}

function describeEntry(
  entry: LinkedEntry,
  { collections, resolveLink }: Pick<Checked, 'collections' | 'resolveLink'>,
  { diagnostics }: SiteReport,
): EntryDescription {
  const all = entriesOf({ collections })
  const name = qualifiedId(entry)
  const { file } = entry.locate([])
  const isAlone = entry.recordPath.length === 0
  const data = entry.data ?? entry.part ?? {}
  const holder = collections.find(({ collection }) => collection.name === entry.collection)?.collection
  return {
    name,
    file,
    address: holder && pageAddress({ data }, holder),
    values: Object.entries(data).filter(([, value]) => value !== null && !(Array.isArray(value) && value.length === 0)),
    refersTo: entry.links.map((link) => [link.path.join('.'), qualifiedId(link)] as const),
    referredFrom: all.flatMap((other) =>
      other.links.flatMap((link) =>
        qualifiedId(link) === name ? [[qualifiedId(other), link.path.join('.')] as const] : [],
      ),
    ),
    linkedFrom: all.flatMap((other) => {
      const addresses = [other.body?.summary, ...other.texts.map(({ summary }) => summary)].flatMap(
        (one) => one?.addresses ?? [],
      )
      const leads = addresses.some((href) => {
        const target = href.startsWith('#') ? undefined : resolveLink(href, other)
        return target && 'page' in target && qualifiedId(target.page) === name
      })
      return leads && qualifiedId(other) !== name ? [qualifiedId(other)] : []
    }),
    problems: diagnostics.filter((one) => one.file === file && (isAlone || isWithin(one, entry))),
  }
}

/** True for a problem that stands between the head of a record and the next value that is none of its own. */
function isWithin({ span }: Diagnostic, entry: LinkedEntry): boolean {
  const places = Object.keys(entry.data ?? {}).map((field) => entry.locate([field]).span)
  const [start] = entry.locate([]).span
  return span[0] >= start && span[0] <= largest(places, ([, end]) => end, start)
}
