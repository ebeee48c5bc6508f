import { addTo } from '../diagnostics/add-to.ts'
import { largest } from '../diagnostics/extremes.ts'
import { splitNumber } from '../schema/slug.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { assignRanks } from './assign-ranks.ts'
import type { Refusal } from './change.ts'
import { placeBeside, type Reordering } from './place-beside.ts'
import type { ChangeSubject } from './subject.ts'

/**
 * The paths that files get, relative to the content folder, when numbers in front of their names put an entry beside another, in
 * each folder of a language.
 */
export function renumberFiles(
  subject: ChangeSubject,
  entries: readonly LinkedEntry[],
  reordering: Reordering,
): { readonly moves: ReadonlyMap<string, string> } | Refusal {
  const { id, neighbour, side } = reordering
  const level = differingStep(entries, reordering)
  if (level === undefined)
    return { refused: `${id} and ${neighbour} stand in different folders`, help: 'Move the file first' }
  const folders = new Map<string, LinkedEntry[]>()
  for (const entry of entries) addTo(folders, folderAt(entry.source.file, level), entry)
  const nameOf = (wanted: string): { readonly name: string; readonly folder: string } | undefined => {
    const entry = entries.find((one) => one.id === wanted)
    return entry && { name: plainName(entry, level), folder: folderAt(entry.source.file, level) }
  }
  const [own, other] = [nameOf(id), nameOf(neighbour)]
  if (!own || !other || own.name === other.name) return { refused: `${id} and ${neighbour} have one number together` }
  const beside = { id: own.name, neighbour: other.name, side }
  const wanted = placeBeside([...namesIn(folders.get(own.folder) ?? [], level).keys()], beside)
  const moves = new Map<string, string>()
  for (const [folder, inside] of folders) {
    const names = namesIn(inside, level)
    if (!names.has(own.name)) continue
    const before = wanted.slice(0, wanted.indexOf(own.name)).findLast((one) => names.has(one))
    const first = [...names.keys()].find((one) => one !== own.name) ?? ''
    const place = { id: own.name, neighbour: before ?? first, side: before === undefined ? 'before' : 'after' } as const
    const order = placeBeside([...names.keys()], place).map((key) => ({ key, rank: names.get(key) }))
    const fresh = assignRanks(order, own.name)
    const digitsOf = ({ source }: LinkedEntry): number => splitNumber(stepAt(source.file, level))?.number.length ?? 0
    const width = largest(inside, digitsOf, 2)
    const renamed = new Map<string, string>()
    for (const entry of inside) {
      const rank = fresh.get(plainName(entry, level))
      const step = stepAt(entry.source.file, level)
      if (rank !== undefined) renamed.set(step, withNumber(step, rank, width))
    }
    for (const file of subject.files) {
      const to = folderAt(file, level) === folder ? renamed.get(stepAt(file, level)) : undefined
      if (to !== undefined) moves.set(file, replaceStep(file, level, to))
    }
  }
  return { moves }
}

/** The first step at which the paths of two entries differ, where nothing but the rest of one entry lies below. */
function differingStep(entries: readonly LinkedEntry[], { id, neighbour }: Reordering): number | undefined {
  const file = entries.find((entry) => entry.id === id)?.source.file.split('/')
  const locale = entries.find((entry) => entry.id === id)?.locale
  const others = entries.filter((entry) => entry.id === neighbour)
  const other = (others.find((entry) => entry.locale === locale) ?? others[0])?.source.file.split('/')
  if (!file || !other) return undefined
  const level = file.findIndex((step, at) => step !== other[at])
  const isLast = level === file.length - 1 && level === other.length - 1
  const isIndex = file.slice(level + 1).join('/') === other.slice(level + 1).join('/')
  return level >= 0 && (isLast || isIndex) ? level : undefined
}

const folderAt = (file: string, level: number): string => file.split('/').slice(0, level).join('/')
const stepAt = (file: string, level: number): string => file.split('/')[level] ?? ''

const replaceStep = (file: string, level: number, step: string): string =>
  file
    .split('/')
    .map((one, at) => (at === level ? step : one))
    .join('/')

/** The names in a folder in their order, with their numbers; a file in several languages, and a folder, have one. */
function namesIn(inside: readonly LinkedEntry[], level: number): ReadonlyMap<string, number | undefined> {
  const names = new Map<string, number | undefined>()
  for (const entry of inside) {
    const name = plainName(entry, level)
    const number = splitNumber(stepAt(entry.source.file, level))?.number
    if (!names.has(name)) names.set(name, number === undefined ? undefined : Number(number))
  }
  return names
}

/** The name at a step of the path of an entry, without its number, its language and its ending. */
function plainName({ id, source }: LinkedEntry, level: number): string {
  const steps = source.file.split('/')
  const isLast = level === steps.length - 1
  return isLast ? (id.split('/').at(-1) ?? '') : withoutNumber(stepAt(source.file, level))
}

const withoutNumber = (step: string): string => splitNumber(step)?.rest ?? step

/** A name with another number in front, written as wide as those beside it, and with the sign between them that it has. */
function withNumber(step: string, rank: number, width: number): string {
  const { sign, rest } = splitNumber(step) ?? { sign: '-', rest: step }
  return `${String(rank).padStart(width, '0')}${sign}${rest}`
}
