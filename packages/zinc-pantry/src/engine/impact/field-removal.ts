import { locateProperty } from '../../body/body-summary.ts'
import { appendAll } from '../../diagnostics/append-all.ts'
import { valueAt } from '../../diagnostics/own-key.ts'
import { settingPath } from '../../diagnostics/words.ts'
import { entriesOf } from '../../link/linked-entries.ts'
import { qualifiedId } from '../../link/pages.ts'
import type { AnyField } from '../../schema/any-field.ts'
import type { Step } from '../../schema/check-run.ts'
import type { Fields } from '../../schema/field.ts'
import { fieldAt, fieldsBelow, itemOf } from '../../schema/field-path.ts'
import { mergedFields } from '../../schema/fields/variant.ts'
import { childrenOf, leadingOf } from '../../schema/kinds.ts'
import { allFields, type CollectionModel, type Model, visitFields } from '../../schema/model.ts'
import { idKeysOf, slugKeyOf } from '../../schema/naming-rule.ts'
import type { SettingStep } from '../../schema/settings-reader.ts'
import { writtenKey } from '../../schema/written-key.ts'
import type { LinkedEntry } from '../../validate/entry.ts'
import { asDefinitions, type Effect, type NamedSetting, type Removal, type Subject } from './effects.ts'
import { functionsWithField, functionsWithText } from './functions.ts'

/** The removal of a field: settings and functions that name it, and values that are written for it. */
export async function removeField(
  subject: Subject,
  collection: CollectionModel,
  names: readonly string[],
): Promise<Removal> {
  const name = names.join('.')
  const isWritten = Object.hasOwn(collection.fields, names[0] as string)
  const uses = isWritten ? usesIn(subject, collection.name, names, () => true, 'has a value for it') : []
  return {
    target: 'field',
    words: `The definition of the field ${name} of ${collection.name}, for all its entries`,
    effects: [...(await asDefinitions(subject, settingsThatName(subject.model, collection, names))), ...uses],
  }
}

/** The removal of a value of a choice. */
export async function removeChoice(
  subject: Subject,
  collection: CollectionModel,
  { names, choice }: { readonly names: readonly string[]; readonly choice: string },
): Promise<Removal> {
  const functions = functionsWithText(subject.model, choice, collection.name)
  const isDefault = fieldAt(allFields(collection), names, subject.model.blocks)?.options.default === choice
  const path = ['collections', collection.name, 'fields', ...names]
  const defaults = isDefault ? [{ path, words: `${settingPath(path)} has it as its default` }] : []
  return {
    target: 'choice',
    words: `The value ${choice} of the field ${names.join('.')} of ${collection.name}`,
    effects: [
      ...(await asDefinitions(subject, [...defaults, ...functions])),
      ...usesIn(subject, collection.name, names, (value) => value === choice, 'has it'),
    ],
  }
}

/** The removal of a block, or of a field of one. */
export async function removeBlock(subject: Subject, block: string, names: readonly string[]): Promise<Removal> {
  const { model } = subject
  const settings: NamedSetting[] = []
  if (names.length === 0)
    eachField(model, (field, path) => {
      if (childrenOf(field).blocks?.names.includes(block))
        settings.push({ path, words: `${settingPath([...path])} allows it` })
    })
  const effects: Effect[] = []
  const fieldsOf = new Map(model.collections.map((one) => [one.name, allFields(one)]))
  for (const entry of entriesOf(subject)) {
    const from = qualifiedId(entry)
    for (const path of blocksIn(entry.data ?? {}, fieldsOf.get(entry.collection) ?? {}, { model, block })) {
      const inner =
        names.length === 0 ? [path] : pathsAt(valueAt(entry.data, path), names).map((end) => [...path, ...end])
      for (const at of inner)
        effects.push({ kind: 'use', words: `${from} uses it in ${at.join('.')}`, place: entry.locate(at) })
    }
    const { body } = entry
    for (const use of body?.summary.uses ?? []) {
      if (!body || use.block !== block || (names.length > 0 && !Object.hasOwn(use.values, names[0] as string))) continue
      const [start, end] = locateProperty(use, names[0], 'key')
      const span = [start + body.startOffset, end + body.startOffset] as const
      effects.push({ kind: 'use', words: `${from} uses it in its body`, place: { file: body.file, span } })
    }
  }
  const words =
    names.length === 0
      ? `The definition of the block ${block}`
      : `The definition of the field ${names.join('.')} of the block ${block}`
  return {
    target: names.length === 0 ? 'block' : 'field',
    words,
    effects: [...(await asDefinitions(subject, settings)), ...effects],
  }
}

/** Fields of a site that lead to a collection. */
export function fieldsThatLeadTo(model: Model, target: string): NamedSetting[] {
  const found: NamedSetting[] = []
  eachField(model, (field, path) => {
    if (leadingOf(field)?.targets.includes(target) && path[1] !== target)
      found.push({ path, words: `${settingPath([...path])} leads to it` })
  })
  return found
}

/** Calls a function for every field of a site, those in blocks included. */
function eachField(model: Model, visit: (field: AnyField, path: SettingStep[]) => void): void {
  for (const { name, fields, derived } of model.collections) {
    visitFields(fields, (field, path) => visit(field, ['collections', name, 'fields', ...path]))
    for (const [key, { field }] of Object.entries(derived)) visit(field, ['collections', name, 'derive', key])
  }
  for (const [name, fields] of model.blocks)
    visitFields(fields, (field, path) => visit(field, ['blocks', name, 'fields', ...path]))
}

/** Settings of a site that name a field. */
function settingsThatName(model: Model, collection: CollectionModel, names: readonly string[]): NamedSetting[] {
  const { name } = collection
  const [field = ''] = names
  const dotted = names.join('.')
  const isTop = names.length === 1
  const base = ['collections', name]
  const found: NamedSetting[] = []
  const add = (...path: SettingStep[]): void => void found.push({ path, words: `${settingPath(path)} names it` })
  if (isTop) {
    for (const [position, fields] of collection.unique.entries())
      if (fields.includes(field)) add(...base, 'unique', position)
    for (const key of ['draft', 'from', 'until'] as const)
      if (collection.publication?.[key] === field) add(...base, 'publication', key)
    for (const key of ['parent', 'createFrom', 'revised', 'address', 'value'] as const)
      if (collection[key] === field) add(...base, key)
    if (collection.addressVariables.includes(field)) add(...base, 'address')
    if (collection.formerAddresses === field) add(...base, 'formerAddresses')
    const key = writtenKey(field, mergedFields(collection.fields)[field] ?? { kind: 'anything', options: {} })
    if (idKeysOf(collection).includes(key)) add(...base, 'id')
    if (slugKeyOf(collection) === key) add(...base, 'slug')
    if (collection.order.some((key) => key.field === field)) add(...base, 'order')
  }
  const isBelow = (path: string): boolean => path === dotted || path.startsWith(`${dotted}.`)
  if (collection.indexes.some(isBelow)) add(...base, 'indexes')
  for (const other of model.collections)
    for (const { path } of other.search) {
      const target = other === collection ? path : pathBehind(path, allFields(other), name)
      if (target && isBelow(target.join('.'))) add('collections', other.name, 'search', path.join('.'))
    }
  appendAll(found, functionsWithField(model, name, names.at(-1) as string))
  eachField(model, (inner, path) => {
    const { targets = [], by, through } = leadingOf(inner) ?? {}
    if (!targets.includes(name)) return
    if (isTop && by === field) add(...path, 'by')
    if (through !== undefined && isBelow(through)) add(...path)
  })
  return found
}

/** The part of a path that is searched behind a reference to a collection. */
function pathBehind(path: readonly string[], fields: Fields, target: string): readonly string[] | undefined {
  let level: Fields | undefined = mergedFields(fields)
  for (const [at, step] of path.entries()) {
    let field: AnyField | undefined = level?.[step]
    for (let item = itemOf(field); item; item = itemOf(item)) field = item
    if (!field) return undefined
    if (leadingOf(field)?.targets.includes(target)) return path.slice(at + 1)
    level = fieldsBelow(field, NO_BLOCKS)
  }
  return undefined
}

/** What is searched never leads into blocks. */
const NO_BLOCKS = new Map()

/** Values at a path that pass, in all entries of a collection, where they are written. */
function usesIn(
  subject: Subject,
  collection: string,
  names: readonly string[],
  passes: (value: unknown) => boolean,
  words: string,
): Effect[] {
  return entriesOf(subject)
    .filter((entry) => entry.collection === collection)
    .flatMap((entry) =>
      pathsAt(entry.data ?? {}, names).flatMap((path): Effect[] => {
        const value = valueAt(entry.data, path)
        const items = Array.isArray(value) && !passes(value) ? value.map((_, at) => [...path, at]) : [path]
        return items
          .filter((at) => passes(valueAt(entry.data, at)) && isWrittenAt(entry, at))
          .map((at) => ({ kind: 'use', words: `${collection}/${entry.id} ${words}`, place: entry.locate(at) }))
      }),
    )
}

/** False for what an entry has by a default, which stands nowhere. */
function isWrittenAt(entry: LinkedEntry, path: readonly Step[]): boolean {
  const { span, file } = entry.locate(path)
  const above = entry.locate(path.slice(0, -1))
  return file !== above.file || span[0] !== above.span[0] || span[1] !== above.span[1]
}

/** Every path in a value by names of fields, through lists and maps, at which there is something. */
function pathsAt(value: unknown, names: readonly string[], above: readonly Step[] = []): (readonly Step[])[] {
  if (value === null || value === undefined) return []
  if (Array.isArray(value) && names.length > 0) return value.flatMap((item, at) => pathsAt(item, names, [...above, at]))
  const [name, ...rest] = names
  if (name === undefined) return [above]
  if (typeof value !== 'object') return []
  const group = value as Readonly<Record<string, unknown>>
  return Object.hasOwn(group, name) ? pathsAt(group[name], rest, [...above, name]) : []
}

/** Where values of a block stand in the data of an entry. */
function blocksIn(
  data: unknown,
  fields: Fields,
  { model, block }: { readonly model: Model; readonly block: string },
): (readonly Step[])[] {
  const found: (readonly Step[])[] = []
  const visit = (value: unknown, field: AnyField | undefined, path: readonly Step[]): void => {
    if (typeof value !== 'object' || value === null || !field) return
    const { item, fields: own, blocks, alternatives = [] } = childrenOf(field)
    for (const one of alternatives) visit(value, one, path)
    if (item)
      for (const [key, inner] of Object.entries(value))
        visit(inner, item, [...path, Array.isArray(value) ? Number(key) : key])
    if (blocks) {
      const name = (value as Readonly<Record<string, unknown>>)[blocks.key]
      if (name === block) found.push(path)
      walk(value, model.blocks.get(String(name)) ?? {}, path)
    }
    if (own) walk(value, own, path)
  }
  const walk = (value: object, own: Fields, path: readonly Step[]): void => {
    for (const [name, field] of Object.entries(mergedFields(own)))
      visit((value as Readonly<Record<string, unknown>>)[name], field, [...path, name])
  }
  walk(data as object, fields, [])
  return found
}
