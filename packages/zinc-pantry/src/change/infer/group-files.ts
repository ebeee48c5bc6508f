import { addTo } from '../../diagnostics/add-to.ts'
import { isGroup, valueAt } from '../../diagnostics/own-key.ts'
import { toIdentifier } from '../../schema/identifiers.ts'
import { pointerOf, pointerSteps } from '../../schema/pointer.ts'
import type { FormatName } from '../../values/format-names.ts'
import { isAlike, type Profile, profileOf } from './likeness.ts'

/** A file of the content as it was read. */
export interface SeenFile {
  /** Relative to the content folder. */
  readonly path: string
  readonly format: FormatName
  readonly value: unknown
  /** True for formats with text below front matter. */
  readonly canHaveBody: boolean
  /** True where a file always holds many records. */
  readonly alwaysMany: boolean
  readonly body: string | undefined
}

/** Files that are most likely one collection. */
export interface FileGroup {
  readonly name: string
  readonly patterns: readonly string[]
  readonly exclude: readonly string[]
  readonly files: readonly SeenFile[]
  /** Whether each holds one record, many, or there is only one at all. */
  readonly holds: 'one' | 'many' | 'single'
  /** The JSON Pointer of the records. */
  readonly records?: string | undefined
}

/** Puts files into collections, by their folders and by how alike their keys are. */
export function groupFiles(files: readonly SeenFile[]): readonly FileGroup[] {
  const many = files.filter((file) => holdsMany(file))
  const single = files.filter((file) => !holdsMany(file))
  const groups = [
    ...groupTree(
      single.filter(({ canHaveBody }) => canHaveBody),
      '',
    ),
    ...groupTree(
      single.filter(({ canHaveBody }) => !canHaveBody),
      '',
    ),
    ...groupMany(many),
  ]
  return nameGroups(groups.map((group) => withExclusions(group, files)))
}

type UnnamedGroup = Omit<FileGroup, 'name'>

/** Where the records of a file of many stand; undefined for a file that is one record. */
function holdsMany({ value, alwaysMany, canHaveBody }: SeenFile): { readonly records?: string } | undefined {
  if (alwaysMany) return {}
  if (canHaveBody) return undefined
  if (Array.isArray(value)) return value.some(isGroup) ? {} : undefined
  if (!isGroup(value)) return undefined
  const entries = Object.entries(value).filter(([key]) => key !== '$schema')
  const lists = entries.filter(([, inner]) => Array.isArray(inner) && inner.length > 1 && inner.every(isGroup))
  const [only] = lists
  if (only && lists.length === 1 && entries.length <= 3) return { records: pointerOf([only[0]]) }
  const groups = entries.map(([, inner]) => inner).filter(isGroup)
  if (groups.length < 2 || groups.length < entries.length) return undefined
  const whole = profileOf(groups)
  return groups.every((one) => isAlike(profileOf([one]), whole, 0.5)) ? {} : undefined
}

/** Groups files of one record each below a folder. */
function groupTree(files: readonly SeenFile[], folder: string): readonly UnnamedGroup[] {
  if (files.length === 0) return []
  const depth = folder === '' ? 0 : folder.length + 1
  const direct = files.filter(({ path }) => !path.slice(depth).includes('/'))
  const below = new Map<string, SeenFile[]>()
  for (const file of files) {
    const rest = file.path.slice(depth)
    if (!rest.includes('/')) continue
    const child = `${folder === '' ? '' : `${folder}/`}${rest.slice(0, rest.indexOf('/'))}`
    addTo(below, child, file)
  }
  const parts = [direct, ...below.values()].filter((part) => part.length > 0)
  const isOne = folder !== '' && parts.length > 1 && (haveOneName(files) || areMostlyAlike(parts))
  if (isOne) return [{ patterns: patternsOf(files, `${folder}/**/`), exclude: [], files, holds: 'one' }]
  return [...groupDirect(direct, folder), ...[...below].flatMap(([child, own]) => groupTree(own, child))]
}

const recordOf = ({ value }: SeenFile): Readonly<Record<string, unknown>> => (isGroup(value) ? value : {})

const profileOfFiles = (files: readonly SeenFile[]): Profile => profileOf(files.map(recordOf))

const baseName = (path: string): string => path.slice(path.lastIndexOf('/') + 1)

/** True for files of one name, each in a folder of its own. */
const haveOneName = (files: readonly SeenFile[]): boolean =>
  files.length > 2 && new Set(files.map(({ path }) => baseName(path))).size === 1

/** True where nearly all files lie in parts that are like the whole. */
function areMostlyAlike(parts: readonly (readonly SeenFile[])[]): boolean {
  const all = parts.flat()
  const whole = profileOfFiles(all)
  const alike = parts.filter((part) => isAlike(profileOfFiles(part), whole, 0.5))
  return alike.flat().length >= all.length * 0.8
}

/** The files of one folder: one collection where they are alike, else each is one of a kind. */
function groupDirect(files: readonly SeenFile[], folder: string): readonly UnnamedGroup[] {
  if (files.length === 0) return []
  const base = folder === '' ? '' : `${folder}/`
  const whole = profileOfFiles(files)
  const isOne =
    files.every(({ canHaveBody }) => canHaveBody) ||
    (files.length > 1 && files.every((file) => isAlike(profileOf([recordOf(file)]), whole, 0.5)))
  if (isOne) return [{ patterns: patternsOf(files, base), exclude: [], files, holds: 'one' }]
  return files.map((file) => ({ patterns: [file.path], exclude: [], files: [file], holds: 'single' }))
}

/** Files of many records each: those of a folder that hold the like are one collection. */
function groupMany(files: readonly SeenFile[]): readonly UnnamedGroup[] {
  const groups: { folder: string; files: SeenFile[]; profile: Profile; records: string | undefined }[] = []
  for (const file of files) {
    const folder = file.path.slice(0, file.path.lastIndexOf('/') + 1)
    const records = holdsMany(file)?.records
    const profile = profileOf(recordsIn(file.value, records).map(({ value }) => value))
    const known = groups.find(
      (one) => one.folder === folder && folder !== '' && one.records === records && isAlike(one.profile, profile, 0.8),
    )
    if (known) known.files.push(file)
    else groups.push({ folder, files: [file], profile, records })
  }
  return groups.map(({ folder, files: own, records }) => ({
    patterns: own.length === 1 ? own.map(({ path }) => path) : patternsOf(own, folder),
    exclude: [],
    files: own,
    holds: 'many',
    records,
  }))
}

/** The records of a file of many, and the keys that they stand under. */
export function recordsIn(
  value: unknown,
  records: string | undefined,
): readonly { readonly value: Readonly<Record<string, unknown>>; readonly key?: string }[] {
  const holder = valueAt(value, pointerSteps(records ?? ''))
  if (Array.isArray(holder)) return holder.flatMap((one: unknown) => (isGroup(one) ? [{ value: one }] : []))
  if (!isGroup(holder)) return []
  return Object.entries(holder).flatMap(([key, one]) =>
    isGroup(one) && key !== '$schema' ? [{ value: one, key }] : [],
  )
}

/** Patterns for the files of a folder, by their endings. */
function patternsOf(files: readonly SeenFile[], base: string): readonly string[] {
  const [first] = files
  if (first && base.endsWith('**/') && haveOneName(files)) return [base + baseName(first.path)]
  const endings = [...new Set(files.map(({ path }) => path.slice(path.lastIndexOf('.') + 1)))].sort()
  return [`${base}*.${endings.length === 1 ? endings[0] : `{${endings.join(',')}}`}`]
}

/** Leaves out files that a pattern matches and that are something else. */
function withExclusions(group: UnnamedGroup, all: readonly SeenFile[]): UnnamedGroup {
  const own = new Set(group.files.map(({ path }) => path))
  const [pattern = ''] = group.patterns
  if (!pattern.includes('*')) return group
  const base = pattern.slice(0, pattern.indexOf('*'))
  const isDeep = pattern.includes('**')
  const endings = new Set(group.files.map(({ path }) => path.slice(path.lastIndexOf('.'))))
  const exclude = all.filter(({ path }) => {
    const rest = path.slice(base.length)
    return (
      path.startsWith(base) &&
      !own.has(path) &&
      endings.has(path.slice(path.lastIndexOf('.'))) &&
      (isDeep || !rest.includes('/'))
    )
  })
  return exclude.length === 0 ? group : { ...group, exclude: exclude.map(({ path }) => path) }
}

/** Names that code can use, no two alike. */
function nameGroups(groups: readonly UnnamedGroup[]): readonly FileGroup[] {
  const taken = new Set<string>()
  return groups.map((group) => {
    const [pattern = ''] = group.patterns
    const steps = (pattern.includes('*') ? pattern.slice(0, pattern.indexOf('*')) : pattern.replace(/\.[^.]+$/, ''))
      .split('/')
      .filter(Boolean)
    const candidates = steps.length === 0 ? ['pages'] : [steps.at(-1) ?? '', steps.slice(-2).join('-'), steps.join('-')]
    const plain = candidates.map((one) => toIdentifier(one)).map((one) => one.charAt(0).toLowerCase() + one.slice(1))
    let name = plain.find((one) => !taken.has(one)) ?? plain[0] ?? 'entries'
    for (let count = 2; taken.has(name); count++) name = `${plain[0]}${count}`
    taken.add(name)
    return { ...group, name }
  })
}
