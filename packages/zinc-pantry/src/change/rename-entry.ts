import { appendAll } from '../diagnostics/append-all.ts'
import type { Place } from '../diagnostics/diagnostic.ts'
import { createFinder, entriesOf } from '../link/linked-entries.ts'
import { qualifiedId } from '../link/pages.ts'
import { formatOf } from '../read/formats.ts'
import type { CollectionModel } from '../schema/model.ts'
import type { LinkedEntry, Reference } from '../validate/entry.ts'
import type { Attention, Change, ChangeStep, Refusal } from './change.ts'
import { createLinkWriter, type LinkedAfter } from './create-link-writer.ts'
import { findReferences, type LinkTest, prefixOf } from './find-references.ts'
import { renamePath } from './rename-path.ts'
import { rewriteLinks } from './rewrite-links.ts'
import type { ChangeSubject } from './subject.ts'
import { writeReference } from './write-reference.ts'
import { writeScalar } from './write-scalar.ts'

/** An entry that is to have another id. */
export interface EntryRenaming {
  readonly collection: string
  readonly id: string
  /** The id that it is to have. */
  readonly name: string
}

/** What is known of entries once the change is made: undefined for those that are as they were. */
export type PageAfter = (
  entry: LinkedEntry,
) => { readonly slug: string; readonly address: string | undefined } | undefined

/**
 * Gives an entry another id, in all its languages: its file, key or value, every reference and every link that leads to it.
 * `pageAfter` tells what became of pages by it; without it addresses stay as they are.
 */
export function renameEntry(
  subject: ChangeSubject,
  { collection, id, name }: EntryRenaming,
  pageAfter: PageAfter = () => undefined,
): Change | Refusal {
  const found = subject.collections.find((one) => one.collection.name === collection)
  const own = found?.entries.filter((entry) => entry.id === id) ?? []
  if (!found || own.length === 0) return { refused: `There is no entry ${id} in ${collection}` }
  if (found.entries.some((entry) => entry.id === name)) return { refused: `${collection} has an entry ${name} already` }
  const moves = new Map<string, string>()
  const steps: ChangeStep[] = []
  for (const entry of own) {
    const declared = renameDeclaration(subject, entry, { collection: found.collection, name })
    if ('refused' in declared) return declared
    appendAll(steps, declared)
    for (const step of declared) if (step.kind === 'move') moves.set(step.file, step.to)
  }
  const attention: Attention[] = []
  const put = (place: Place, text: string | undefined, { from, verb, to }: Naming): void => {
    const isElsewhere = !place.file.startsWith(`${subject.model.content}/`)
    if (isElsewhere || text === undefined)
      attention.push({
        place,
        words: `${from} has to ${verb} to ${to}, ${isElsewhere ? 'and comes from elsewhere' : 'to be written by hand'}`,
      })
    else if (subject.textOf(place.file)?.slice(...place.span) !== text)
      steps.push({ kind: 'edit', ...place, text, reason: `${from} ${verb}s to ${to}` })
  }
  const renaming = { collection, id, name, pageAfter }
  const find = createFinder(subject)
  const { content } = subject.model
  const after: LinkedAfter = {
    fileAfter: (file) => moves.get(`${content}/${file}`)?.slice(content.length + 1) ?? file,
    nameAfter: (page) =>
      page.collection === collection && page.id === id ? `${collection}/${name}` : qualifiedId(page),
    addressAfter(page) {
      const version = find(page)
      return version && pageAfter(version)?.address
    },
  }
  for (const entry of entriesOf(subject)) {
    const from = qualifiedId(entry)
    for (const { place, text } of renameReferences(subject, entry, renaming))
      put(place, text, { from, verb: 'refer', to: name })
    for (const { place, text } of rewriteLinks(subject, entry, createLinkWriter(subject, entry, after)))
      put(place, text, { from, verb: 'link', to: text })
  }
  return { words: `${collection}/${id} becomes ${collection}/${name}`, steps: unique(steps), attention }
}

/** What leads to an entry, and how. */
interface Naming {
  readonly from: string
  readonly verb: 'refer' | 'link'
  readonly to: string
}

/** The steps that change the id of an entry where it is declared. */
function renameDeclaration(
  { model, files, textOf }: ChangeSubject,
  entry: LinkedEntry,
  { collection, name }: { readonly collection: CollectionModel; readonly name: string },
): readonly ChangeStep[] | Refusal {
  const { id, source, recordPath, idPath } = entry
  // What a reference makes is declared nowhere else.
  if ('implicit' in source) return []
  const reason = `its id is ${name}`
  const isKey = typeof recordPath.at(-1) === 'string'
  if (idPath.length > 0 || isKey) {
    if (collection.id.by === 'keys' && collection.id.keys.length > 1)
      return { refused: `The id of ${id} is made of ${collection.id.keys.join(' and ')}`, help: 'Change those instead' }
    const place = entry.locate(idPath)
    const format = formatOf(place.file, model.endings)
    const written = textOf(place.file)?.slice(...place.span)
    const text = format && written !== undefined ? writeScalar(written, name, format.name) : undefined
    if (text === undefined) return { refused: `The id of ${id} cannot be written at its place`, help: place.file }
    return [{ kind: 'edit', ...place, text, reason }]
  }
  if (recordPath.length > 0)
    return {
      refused: `The id of ${id} is its position`,
      help: 'Give its records a key, and name it with the setting id',
    }
  const to = renamePath({ file: source.file, id, numbered: collection.numbered }, name)
  if (to === undefined) return { refused: `The path of ${source.file} does not end with the id ${id}` }
  if (files.includes(to)) return { refused: `There is a file ${to} already` }
  const { content } = model
  return [{ kind: 'move', file: `${content}/${source.file}`, to: `${content}/${to}`, reason }]
}

interface Renaming extends EntryRenaming {
  readonly pageAfter: PageAfter
}

/** The references of an entry to the one that is renamed, and what is to be written in their place. */
function renameReferences(
  subject: ChangeSubject,
  entry: LinkedEntry,
  { collection, id, name, pageAfter }: Renaming,
): readonly { readonly place: Place; readonly text: string | undefined }[] {
  const isTarget: LinkTest = (link) => link.collection === collection && link.id === id
  return findReferences(entry, isTarget).flatMap((placed) => {
    const text = renamedText(subject, placed.reference, { collection, id, name, pageAfter })
    return text === undefined
      ? []
      : [{ place: placed.place, text: writeReference(subject, entry, { ...placed, text }) }]
  })
}

/** What a reference says after the change; undefined where that is what it says now. */
function renamedText(
  { collections }: ChangeSubject,
  reference: Reference,
  { collection, id, name, pageAfter }: Renaming,
): string | undefined {
  const prefix = prefixOf(reference, collection)
  const plain = reference.text.slice(prefix.length)
  const { by } = reference
  if (by === 'id') return prefix + name
  if (by !== 'slug') return undefined
  const target = collections
    .find((one) => one.collection.name === collection)
    ?.entries.find((entry) => entry.id === id && entry.slug === plain)
  const slug = target && pageAfter(target)?.slug
  return slug === undefined || slug === plain ? undefined : prefix + slug
}

/** The same place may be found twice, as that of a list and of its item. */
const unique = (steps: readonly ChangeStep[]): ChangeStep[] => [
  ...new Map(
    steps.map((step) => [
      step.kind === 'edit' ? `${step.file} ${step.span.join()}` : `${step.kind} ${step.file}`,
      step,
    ]),
  ).values(),
]
