import { isGroup } from '../../diagnostics/own-key.ts'
import { withoutNumbers } from '../../link/resolve-path.ts'
import { LEADING_NUMBER } from '../../schema/slug.ts'
import { type FileGroup, groupFiles, recordsIn, type SeenFile } from './group-files.ts'
import type { GuessedCollection, SeenRecord, Surroundings, Suspicion } from './guess.ts'
import { guessFields } from './guess-fields.ts'
import { findTargets, type RecordGroup } from './guess-references.ts'

/** What was found out of the files of a site. */
export interface GuessedContent {
  /** Languages of versions, by the ends of their names. */
  readonly locales: readonly string[]
  readonly collections: readonly GuessedCollection[]
  readonly suspicions: readonly Suspicion[]
}

/** Guesses the collections of some files, and their fields. */
export function guessCollections(
  files: readonly SeenFile[],
  { known, ...surroundings }: Pick<Surroundings, 'isFile'> & { readonly known: readonly RecordGroup[] },
): GuessedContent {
  const groups = groupFiles(files).map(readGroup)
  const targetOf = findTargets([...groups, ...known])
  const suspicions: Suspicion[] = []
  const collections = groups.map((group): GuessedCollection => {
    const { name, patterns, exclude, files: own, holds, records } = group.group
    const groupsOfKeys = group.records.map(({ value, file }) => ({ value: withoutKeys(value, group.leftOut), file }))
    const fields = guessFields(groupsOfKeys, {
      surroundings: { ...surroundings, targetOf: (key, values) => targetOf({ collection: name, key, values }) },
      suspect: (one) => void suspicions.push(one),
      isTop: true,
      depth: 0,
    })
    const bodies = own.filter(({ body }) => body !== undefined && body.trim() !== '').length
    const usesComponents = own.some(({ format, body = '' }) =>
      (format === 'mdx' ? /<[A-Z][\w.]*[\s/>]/ : /^:{2,}[a-z]/m).test(body),
    )
    return {
      name,
      files: patterns,
      settings: {
        ...(exclude.length > 0 ? { exclude } : {}),
        ...(holds === 'single' ? { single: true } : {}),
        ...(holds === 'many' && patterns.some((one) => one.includes('*')) && records === undefined
          ? { perFile: 'many' }
          : {}),
        ...(records === undefined ? {} : { records }),
        ...group.settings,
        ...(bodies > 0 ? { body: usesComponents ? { components: 'any' } : true } : {}),
      },
      fields,
      count: group.records.length,
      why: describe(group, bodies),
    }
  })
  const locales = [...new Set(groups.flatMap((one) => one.locales))].sort()
  return { collections, suspicions, locales }
}

function describe({ group, records }: ReadGroup, bodies: number): string {
  const { files, holds } = group
  if (holds === 'single') return 'one of a kind'
  const count = `${records.length} ${records.length === 1 ? 'entry' : 'entries'}`
  const inFiles = holds === 'many' ? ` in ${files.length} ${files.length === 1 ? 'file' : 'files'}` : ''
  return `${count}${inFiles}${bodies > 0 ? `, ${bodies} with a body` : ''}`
}

interface ReadGroup extends RecordGroup {
  readonly group: FileGroup
  readonly records: readonly SeenRecord[]
  /** Keys that are no fields, since settings read them. */
  readonly leftOut: readonly string[]
  readonly settings: Readonly<Record<string, unknown>>
  /** Languages that names end with. */
  readonly locales: readonly string[]
}

/** The records of a group of files, and what names them. */
function readGroup(group: FileGroup): ReadGroup {
  const { name, files, holds, records: pointer } = group
  const [pattern = ''] = group.patterns
  const star = pattern.search(/[*{]/)
  const base = star === -1 ? pattern : pattern.slice(0, pattern.lastIndexOf('/', star) + 1)
  const records = files.flatMap(({ path, value }): SeenRecord[] => {
    if (holds !== 'many') {
      const record = isGroup(value) ? value : {}
      return [{ file: path, value: record, name: path.slice(base.length).replace(/\.[^.]+$/, '') }]
    }
    return recordsIn(value, pointer).map(({ value: record, key }) => ({ file: path, value: record, name: key ?? '' }))
  })
  const isNumbered = holds === 'one' && isCounted(records)
  const numbered = isNumbered ? { numbered: true } : {}
  const slug =
    records.length > 0 && records.every(({ value }) => typeof value.slug === 'string') ? { slug: 'slug' } : {}
  const slugKeys = 'slug' in slug ? ['slug'] : []
  const isList = holds === 'many' && records.every((record) => record.name === '')
  if (!isList) {
    const locales = holds === 'one' ? languagesOf(records) : []
    const plain = (id: string): string => (locales.length > 0 ? id.replace(LANGUAGE, '') : id)
    const ids = records.map((record) => plain(isNumbered ? withoutNumbers(record.name) : record.name))
    const suffix = locales.length > 0 ? { locales: 'suffix' } : {}
    return { name, group, records, ids, leftOut: slugKeys, settings: { ...slug, ...numbered, ...suffix }, locales }
  }
  const key = ['id', 'slug', 'key', 'code', ...Object.keys(records[0]?.value ?? {})].find((one) =>
    isUnique(records, one),
  )
  const ids = records.map(({ value }, at) => String(key === undefined ? at + 1 : value[key]))
  const settings = key === undefined ? { id: false } : key === 'id' ? {} : { id: key }
  return {
    name,
    group,
    records,
    ids,
    leftOut: [...(key === 'id' ? ['id'] : []), ...slugKeys],
    settings: { ...settings, ...slug },
    locales: [],
  }
}

const LANGUAGE = /\.([a-z]{2}(?:-[A-Z]{2})?)$/

/** The languages that names end with, where versions without one, or in another, stand beside them. */
function languagesOf(records: readonly SeenRecord[]): readonly string[] {
  const names = new Set(records.map(({ name }) => name))
  const found = [...names].flatMap((name) => {
    const [end, language] = LANGUAGE.exec(name) ?? []
    return end !== undefined && language !== undefined ? [{ language, plain: name.slice(0, -end.length) }] : []
  })
  const isPaired = found.some(
    ({ plain }) => names.has(plain) || found.filter((other) => other.plain === plain).length > 1,
  )
  return isPaired ? [...new Set(found.map(({ language }) => language))] : []
}

/** True where nearly all names begin with a number that is no date. */
function isCounted(records: readonly SeenRecord[]): boolean {
  const last = records.map(({ name }) => name.slice(name.lastIndexOf('/') + 1))
  const counted = last.filter((name) => LEADING_NUMBER.test(name) && !/^\d{4}-\d\d/.test(name))
  return records.length > 1 && counted.length >= records.length * 0.8
}

/** True for a key with a short text, or a number, of its own in each record. */
function isUnique(records: readonly SeenRecord[], key: string): boolean {
  const values = records.map(({ value }) => value[key])
  const fits = values.every(
    (one) =>
      (typeof one === 'string' && one !== '' && one.length <= 60 && !one.includes('\n')) || Number.isSafeInteger(one),
  )
  return fits && new Set(values.map(String)).size === records.length
}

function withoutKeys(
  value: Readonly<Record<string, unknown>>,
  keys: readonly string[],
): Readonly<Record<string, unknown>> {
  if (keys.length === 0) return value
  return Object.fromEntries(Object.entries(value).filter(([key]) => !keys.includes(key)))
}
