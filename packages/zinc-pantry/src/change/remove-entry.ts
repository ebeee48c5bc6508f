import type { Place } from '../diagnostics/diagnostic.ts'
import { placeLinks } from '../link/check-links.ts'
import type { PathSegment } from '../read/document.ts'
import { writtenKey } from '../schema/written-key.ts'
import { createWrittenPath } from '../schema/written-path.ts'
import type { LinkedEntry, Reference } from '../validate/entry.ts'
import { KEYS_STEP } from '../values/steps.ts'
import type { Attention, Change, ChangeStep, Refusal } from './change.ts'
import { type EditedSource, editValue } from './edit-value.ts'
import { placesOfHref } from './places-of-href.ts'
import { removeItem } from './remove-item.ts'
import { rewriteHref } from './rewrite-href.ts'
import { openSource, type ReadOptionsOf } from './source.ts'
import { type ChangeSubject, entriesOf } from './subject.ts'
import { writeProperty, writeScalar } from './write-scalar.ts'

/** An entry that is to go. */
export interface EntryRemoval {
  readonly collection: string
  readonly id: string
  /** The id of the entry that stands for it from now on; undefined where nothing does. */
  readonly replacement: string | undefined
}

/**
 * Takes an entry away, in all its languages. What refers or links to it leads to another entry, where there is one; else references are
 * taken out of their lists, or away. What may not be absent is found by the check of the site as it would be.
 */
export function removeEntry(
  subject: ChangeSubject,
  { collection, id, replacement }: EntryRemoval,
  readOptionsOf: ReadOptionsOf,
): Change | Refusal {
  const { model, textOf } = subject
  const all = entriesOf(subject)
  const own = all.filter((entry) => entry.collection === collection && entry.id === id)
  const others = all.filter((entry) => entry.collection === collection && entry.id === replacement)
  const [other] = others
  if (replacement === id) return { refused: 'An entry cannot stand for itself' }
  if (replacement !== undefined && !other) return { refused: `There is no entry ${replacement} in ${collection}` }
  const steps: ChangeStep[] = []
  const attention: Attention[] = []
  const sources = new Map<string, EditedSource | undefined>()
  const sourceOf = (file: string, name: string): EditedSource | undefined => {
    const holder = model.collections.find((one) => one.name === name)
    const isOurs = holder !== undefined && file.startsWith(`${model.content}/`)
    if (!sources.has(file)) sources.set(file, isOurs ? openSource(subject, file, readOptionsOf(holder)) : undefined)
    return sources.get(file)
  }
  for (const entry of own) {
    if ('implicit' in entry.source) continue
    const { file } = entry.locate([])
    const { recordPath } = entry
    if (recordPath.length === 0) {
      steps.push({ kind: 'delete', file, reason: `${collection}/${id} goes` })
      continue
    }
    const source = sourceOf(file, collection)
    const isItem = typeof recordPath.at(-1) === 'number'
    const edit =
      source && (isItem ? removeItem(source, recordPath) : editValue(source, recordPath, undefined, { isWhole: true }))
    if (edit) steps.push({ kind: 'edit', file, ...edit, reason: `${collection}/${id} goes` })
    else attention.push({ place: entry.locate([]), words: `${collection}/${id} is to be taken away by hand` })
  }
  keepAddresses()
  const isOwn = (entry: { readonly collection: string; readonly id: string }): boolean =>
    entry.collection === collection && entry.id === id
  for (const entry of all.filter((one) => !isOwn(one))) {
    const from = `${entry.collection}/${entry.id}`
    const holder = model.collections.find((one) => one.name === entry.collection)
    const written = holder && createWrittenPath(holder.fields, model.blocks)
    const told = new Map(entry.references.map((one) => [one.path.join('\n'), one]))
    const edited = new Set<string>()
    for (const link of entry.links.filter(isOwn)) {
      const reference = told.get(link.path.join('\n'))
      if (!reference) continue
      const place = entry.locate(link.path)
      const source = sourceOf(place.file, entry.collection)
      const text = other && textFor(reference, other)
      const isInBody = entry.body?.file === place.file && place.span[0] >= entry.body.startOffset
      const words = other ? `${from} refers to ${other.id}` : `${from} does not refer to it`
      const value = source && (valueAt(source.document.value, entry.recordPath) as object)
      const path = [...entry.recordPath, ...(written?.([...link.path], value) ?? link.path)]
      const edit = isInBody
        ? propertyEdit(place, text)
        : source &&
          editReference(source, { path, place, reference, text, separator: holder?.cells.listSeparator ?? ';' })
      const key = edit ? `${edit.span.join()}` : ''
      if (edit && edited.has(key)) continue
      edited.add(key)
      if (edit) steps.push({ kind: 'edit', file: place.file, ...edit, reason: words })
      else attention.push({ place, words: `${from} refers to ${id}, which is to be changed by hand` })
    }
    if (!other) continue
    const rename = (href: string): string => {
      const target = subject.resolveLink(href, entry)
      if (!('page' in target) || !isOwn(target.page) || href.startsWith('#')) return href
      const next = others.find((one) => one.locale === target.page.locale) ?? other
      return rewriteHref({
        ...{ href, from: entry.source.file, fromAfter: entry.source.file },
        ...{ to: target.page.source.file, toAfter: next.source.file },
        ...{
          name: `${collection}/${id}`,
          nameAfter: `${collection}/${next.id}`,
          addressAfter: addressOf(subject, next),
        },
      })
    }
    const links = subject.locateLinks(entry, (href) => rename(href) === href)
    for (const { href, place } of placeLinks(entry, links, textOf)) {
      const reason = `${from} links to ${rename(href)}`
      const places = placesOfHref(textOf(place.file) ?? '', place, href)
      for (const own of places) steps.push({ kind: 'edit', ...own, text: rename(href), reason })
      if (places.length === 0) attention.push({ place, words: `${reason}, to be written by hand` })
    }
  }
  return {
    words: `${collection}/${id} goes${other ? `, and ${collection}/${other.id} stands for it` : ''}`,
    steps,
    attention,
  }

  /** The addresses of pages that go lead to the page of the entry that stands for it, where entries list such. */
  function keepAddresses(): void {
    for (const entry of own) {
      const address = addressOf(subject, entry)
      const next = others.find((one) => one.locale === entry.locale) ?? other
      if (address === undefined) continue
      const holder = model.collections.find((one) => one.name === collection)
      const { formerAddresses: field, fields = {} } = holder ?? {}
      const declared = field === undefined ? undefined : fields[field]
      const place = (next ?? entry).locate([])
      if (!next || field === undefined || !declared) {
        attention.push({
          place: entry.locate([]),
          words: `its page at ${address} goes, and nothing leads on from there`,
        })
        continue
      }
      const source = sourceOf(place.file, collection)
      const path = [...next.recordPath, writtenKey(field, declared)]
      const raw = source && valueAt(source.document.value, path)
      const known = Array.isArray(raw) ? raw : typeof raw === 'string' ? [raw] : []
      const before = [entry.data?.[field] ?? []].flat()
      const edit = source && editValue(source, path, [...new Set([...known, ...before, address])])
      if (edit) steps.push({ kind: 'edit', file: place.file, ...edit, reason: `stands for the page at ${address}` })
      else attention.push({ place, words: `${address} is to be written into ${field} by hand` })
    }
  }

  /** The edit of the property of a block. */
  function propertyEdit({ span }: Place, text: string | undefined) {
    const property = text === undefined ? undefined : writeProperty(text)
    return property === undefined ? undefined : { span, text: property }
  }
}

/** A reference as it stands in a text. */
interface WrittenReference {
  readonly path: readonly PathSegment[]
  readonly place: Place
  readonly reference: Reference
  /** What it is to say; undefined where it goes. */
  readonly text: string | undefined
  readonly separator: string
}

function editReference(source: EditedSource, { path, place, reference, text, separator }: WrittenReference) {
  const { document, text: all, format } = source
  if (path.at(-1) === KEYS_STEP) {
    const key = path.slice(0, -1)
    const holder = valueAt(document.value, key.slice(0, -1)) as object
    const isLast = Object.keys(holder).length === 1
    if (text === undefined) return editValue(source, isLast ? key.slice(0, -1) : key, undefined, { isWhole: true })
    const name = Object.hasOwn(holder, text) ? undefined : writeScalar(all.slice(...place.span), text, format.name)
    return name === undefined ? undefined : { span: place.span, text: name }
  }
  const isItem = typeof path.at(-1) === 'number'
  const at = isItem ? path.slice(0, -1) : path
  const raw = valueAt(document.value, at)
  if (!isItem && !(format.hasCells && typeof raw === 'string' && raw.includes(separator)))
    return editValue(source, at, text)
  const items = Array.isArray(raw)
    ? raw
    : String(raw)
        .split(separator)
        .map((one) => one.trim())
  const replaced = items.map((item) => (item === reference.text ? text : item))
  const left = replaced.filter((item, position) => item !== undefined && replaced.indexOf(item) === position)
  return editValue(source, at, left.length === 0 ? undefined : left)
}

/** What a reference says where it leads to another entry; undefined where that entry has no such text. */
function textFor({ text, by, targets }: Reference, other: LinkedEntry): string | undefined {
  const prefix = targets.length > 1 && text.startsWith(`${other.collection}/`) ? `${other.collection}/` : ''
  const value = by === 'id' ? other.id : by === 'slug' ? other.slug : other.data?.[by]
  return typeof value === 'string' ? prefix + value : undefined
}

function addressOf({ model }: ChangeSubject, { collection, data }: LinkedEntry): string | undefined {
  const { address } = model.collections.find(({ name }) => name === collection) ?? {}
  const value = address === undefined ? undefined : data?.[address]
  return typeof value === 'string' ? value : undefined
}

function valueAt(value: unknown, path: readonly PathSegment[]): unknown {
  let at = value
  for (const step of path) at = (at as Readonly<Record<PathSegment, unknown>> | null | undefined)?.[step]
  return at
}
