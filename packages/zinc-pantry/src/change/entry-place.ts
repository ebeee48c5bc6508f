import picomatch from 'picomatch'
import { extensionOf, formatOf } from '../read/formats.ts'
import type { CollectionModel } from '../schema/model.ts'
import { pointerSteps } from '../schema/pointer.ts'
import { splitNumber } from '../schema/slug.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Refusal } from './change.ts'
import type { ChangeSubject } from './subject.ts'

/** Where an entry comes to stand. Paths are relative to the content folder. */
export type EntryPlace =
  /** A file of its own. */
  | { readonly kind: 'file'; readonly file: string }
  /** A file with others. `holdsKeys` says whether those have keys, or stand in a list; undefined where that is not known yet. */
  | {
      readonly kind: 'records'
      readonly file: string
      readonly path: readonly string[]
      readonly holdsKeys: boolean | undefined
    }

/** An entry that is to have a place. */
export interface Placed {
  readonly collection: CollectionModel
  readonly entries: readonly LinkedEntry[]
  /** Undefined where it gets its id by its position. */
  readonly id: string | undefined
  readonly locale: string | undefined
  /** The file that it is to stand in. Default: that which others stand in, or one of its own. */
  readonly into?: string | undefined
}

/** Finds the place of a new entry, as others of its collection have theirs. */
export function placeEntry(subject: ChangeSubject, placed: Placed): EntryPlace | Refusal {
  const { collection, into } = placed
  if (collection.source !== undefined || collection.files.length === 0)
    return { refused: `${collection.name} does not come from files` }
  const entries = placed.entries.filter(({ source }) => !('implicit' in source))
  const files = new Set(entries.filter(({ recordPath }) => recordPath.length > 0).map(({ source }) => source.file))
  if (into !== undefined && (files.has(into) || isForMany(subject, collection, into)))
    return inRecords(into, { ...placed, entries })
  if (into !== undefined) return { kind: 'file', file: into }
  const exact = collection.files.find((pattern) => !isGlob(pattern))
  const [first, ...others] = files
  if (others.length > 0)
    return {
      refused: `Entries of ${collection.name} stand in several files`,
      help: `Say which with --into: ${[...files].sort().join(', ')}`,
    }
  if (first !== undefined) return inRecords(first, { ...placed, entries })
  if (entries.length === 0 && exact !== undefined) {
    if (isForMany(subject, collection, exact)) return inRecords(exact, { ...placed, entries })
    return { kind: 'file', file: exact }
  }
  return inOwnFile(subject, { ...placed, entries })
}

const isGlob = (pattern: string): boolean => /[*?[\]{}()!]/.test(pattern)

function isForMany({ model }: ChangeSubject, collection: CollectionModel, file: string): boolean {
  const format = formatOf(file, model.endings)
  if (format?.alwaysMany) return true
  const wanted = collection.perFile ?? (collection.files.includes(file) && !collection.single ? 'many' : 'one')
  return format?.canHoldMany === true && wanted === 'many'
}

function inRecords(file: string, { collection, entries }: Placed): EntryPlace {
  const own = entries.find(({ source }) => source.file === file)
  const last = own?.recordPath.at(-1)
  const path = collection.records === undefined ? [] : pointerSteps(collection.records)
  return { kind: 'records', file, path, holdsKeys: last === undefined ? undefined : typeof last === 'string' }
}

/** A file of its own, by the pattern that most others match. */
function inOwnFile(subject: ChangeSubject, { collection, entries, id, locale }: Placed): EntryPlace | Refusal {
  const { name } = collection
  if (id === undefined) return { refused: `A new entry of ${name} needs a name` }
  const patterns = collection.files.map((pattern) => {
    const isMatch = picomatch(pattern, { dot: true })
    return { pattern, own: entries.filter(({ source }) => isMatch(source.file)) }
  })
  const [best] = patterns.sort((one, other) => other.own.length - one.own.length)
  if (!best) return { refused: `${name} does not come from files` }
  const file = fillPattern(best.pattern, {
    collection,
    own: best.own,
    id,
    locale,
    files: subject.files,
    first: subject.model.locales[0],
  })
  const isFound = collection.files.some((pattern) => picomatch(pattern, { dot: true })(file))
  if (!isFound)
    return { refused: `No pattern in files of ${name} gives a place for ${id}`, help: 'Say one with --into' }
  if (subject.files.includes(file)) return { refused: `There is a file ${file} already` }
  return { kind: 'file', file }
}

interface Filling {
  readonly collection: CollectionModel
  readonly own: readonly LinkedEntry[]
  readonly id: string
  readonly locale: string | undefined
  readonly files: readonly string[]
  /** The first language of the site. */
  readonly first: string | undefined
}

/** The ending that a pattern has, the first of several. */
const ENDING = /\.(?:\{([^,}]+)(?:,[^}]*)?\}|([^*?{}/]+))$/
/** The name of the file that a pattern has in each folder. */
const PAGE = /^(?:\*\*\/)?\*\/([^*?{}]+)\.[^/]+$/

function fillPattern(pattern: string, { collection, own, id, locale, files, first }: Filling): string {
  const base = pattern.slice(0, pattern.lastIndexOf('/', pattern.search(/[*?[{(]/)) + 1)
  const tail = pattern.slice(base.length)
  const ending = commonEnding(own) ?? ENDING.exec(tail)?.slice(1).find(Boolean) ?? 'md'
  const language = languagePart(collection, own, { locale, first })
  const steps = id.split('/')
  const folders = steps.slice(0, -1)
  const last = steps.at(-1) ?? ''
  // A pattern such as huts/*/index.md has a folder for each.
  const page = PAGE.exec(tail)?.[1]
  const folder = [base.replace(/\/$/, ''), ...(language.folder ? [language.folder] : []), ...folders].filter(Boolean)
  const number = collection.numbered ? nextNumber(folder.join('/'), files) : ''
  return page === undefined
    ? [...folder, `${number}${last}${language.suffix}.${ending}`].join('/')
    : [...folder, `${number}${last}`, `${page}${language.suffix}.${ending}`].join('/')
}

/** The ending that most files have, without its dot. */
function commonEnding(own: readonly LinkedEntry[]): string | undefined {
  const counts = new Map<string, number>()
  for (const { source } of own) {
    const ending = extensionOf(source.file).slice(1)
    counts.set(ending, (counts.get(ending) ?? 0) + 1)
  }
  return [...counts].sort(([, one], [, other]) => other - one)[0]?.[0]
}

function languagePart(
  { locales }: CollectionModel,
  own: readonly LinkedEntry[],
  { locale, first }: Pick<Filling, 'locale' | 'first'>,
): { readonly folder: string; readonly suffix: string } {
  if (locales === undefined || locale === undefined) return { folder: '', suffix: '' }
  const others = own.filter((entry) => entry.locale === locale)
  // The first language is often not written.
  const isWritten = others.some(({ source }) => new RegExp(`[/.]${locale}[/.]`).test(`/${source.file}`))
  const isFirst = others.length > 0 ? !isWritten : locale === first
  if (isFirst) return { folder: '', suffix: '' }
  return locales === 'folder' ? { folder: locale, suffix: '' } : { folder: '', suffix: `.${locale}` }
}

/** The number after the last in a folder, written as the others are. */
function nextNumber(folder: string, files: readonly string[]): string {
  const inside = files
    .filter((file) => file.startsWith(`${folder}/`))
    .map((file) => file.slice(folder.length + 1).split('/')[0] ?? '')
  const numbered = inside.flatMap((name) => splitNumber(name) ?? [])
  const last = numbered.sort((one, other) => Number(one.number) - Number(other.number)).at(-1)
  if (!last) return '01-'
  const isByTen = numbered.length > 1 && numbered.every(({ number }) => Number(number) % 10 === 0)
  return `${String(Number(last.number) + (isByTen ? 10 : 1)).padStart(last.number.length, '0')}${last.sign}`
}
