import { addTo } from '../../diagnostics/add-to.ts'
import { isGroup } from '../../diagnostics/own-key.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { isIdentifier, toIdentifier } from '../../schema/identifiers.ts'
import { HEAD_NAMES } from '../../schema/model.ts'
import type { Guess, GuessedField, Surroundings, Suspicion } from './guess.ts'
import { guessScalar, type SeenValue } from './guess-value.ts'

/** A group of keys, and the file that it stands in. */
export interface SeenGroup {
  readonly value: Readonly<Record<string, unknown>>
  readonly file: string
}

/** How the keys of groups are read. */
export interface Reading {
  readonly surroundings: Surroundings
  /** Is told of what is most likely a mistake. */
  suspect(suspicion: Suspicion): void
  /** True at the top of entries, where some names are the engine's own. */
  readonly isTop: boolean
  readonly depth: number
}

/** Groups within groups deeper than that are taken as they are. */
const MOST_DEPTH = 4
/** With more keys than that a group is a map, or nobody's to declare. */
const MOST_KEYS = 60

/** The fields that groups have in common, in the order in which they are mostly written. */
export function guessFields(groups: readonly SeenGroup[], reading: Reading): readonly GuessedField[] {
  const keys = new Map<string, SeenValue[]>()
  for (const { value, file } of groups)
    for (const [key, inner] of Object.entries(value)) addTo(keys, key, { value: inner, file })
  const misspelt = findMisspelt(keys, groups)
  for (const [key, meant] of misspelt)
    for (const { file } of keys.get(key) ?? [])
      reading.suspect({ file, words: `its key "${key}" is most likely meant as "${meant}"` })
  const taken = new Set<string>()
  return [...keys].flatMap(([key, all]): GuessedField[] => {
    if (misspelt.has(key)) return []
    const values = all.filter(({ value }) => value !== null && value !== undefined)
    const name = fieldName(key, { isTop: reading.isTop, taken })
    const guess =
      values.length === 0 ? { kind: 'anything', why: 'never has a value' } : guessValues(values, key, reading)
    // One that wrote the key in another way has it too.
    const others = [...misspelt].flatMap(([other, meant]) => (meant === key ? (keys.get(other) ?? []) : []))
    const isRequired = values.length + others.length === groups.length
    return [{ name, key, guess, count: values.length, total: groups.length, isRequired }]
  })
}

/** A name for the field of a key, which code can use. */
function fieldName(key: string, { isTop, taken }: { readonly isTop: boolean; readonly taken: Set<string> }): string {
  const plain = isIdentifier(key) ? key : lowerFirst(toIdentifier(key))
  const own = isTop && HEAD_NAMES.includes(plain) ? `own${plain.charAt(0).toUpperCase()}${plain.slice(1)}` : plain
  let name = own
  for (let count = 2; taken.has(name); count++) name = `${own}${count}`
  taken.add(name)
  return name
}

const lowerFirst = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1)

/** In fewer groups no key is rare. */
const FEWEST_GROUPS = 4

/** Rare keys that look like common ones which their groups lack, and what was meant. */
function findMisspelt(
  keys: ReadonlyMap<string, readonly SeenValue[]>,
  groups: readonly SeenGroup[],
): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  const common = [...keys].filter(([, values]) => values.length > groups.length / 2).map(([key]) => key)
  for (const [key, values] of keys) {
    const isRare = values.length === 1 ? groups.length >= FEWEST_GROUPS : values.length <= groups.length * 0.05
    if (!isRare) continue
    const lacking = common.filter((other) =>
      groups.every(({ value }) => !Object.hasOwn(value, key) || !Object.hasOwn(value, other)),
    )
    const meant = suggestNearest(key, lacking)
    if (meant !== undefined) found.set(key, meant)
  }
  return found
}

/** What the values of a key most likely are. */
function guessValues(values: readonly SeenValue[], key: string, reading: Reading): Guess {
  const lists = values.filter(({ value }) => Array.isArray(value))
  const groups = values.flatMap(({ value, file }) => (isGroup(value) ? [{ value, file }] : []))
  const scalars = values.filter(({ value }) => !Array.isArray(value) && !isGroup(value))
  if (lists.length > 0) return guessList(values, { key, lists, isSingleToo: lists.length < values.length }, reading)
  if (scalars.length === values.length) return guessScalar(scalars, key, reading.surroundings)
  if (groups.length < values.length) {
    const items = [guessScalar(scalars, key, reading.surroundings), guessGroup(groups, key, reading)]
    return { kind: 'either', items, why: `${scalars.length} single, ${groups.length} groups` }
  }
  return guessGroup(groups, key, reading)
}

function guessList(
  values: readonly SeenValue[],
  {
    key,
    lists,
    isSingleToo,
  }: { readonly key: string; readonly lists: readonly SeenValue[]; readonly isSingleToo: boolean },
  reading: Reading,
): Guess {
  const items = values.flatMap(({ value, file }) =>
    (Array.isArray(value) ? value : [value]).map((item: unknown) => ({ value: item, file })),
  )
  const filled = items.filter(({ value }) => value !== null)
  const options = isSingleToo ? { orOne: true } : undefined
  const why = isSingleToo ? `${lists.length} lists, ${values.length - lists.length} single` : undefined
  const item: Guess =
    filled.length === 0 ? { kind: 'anything' } : guessValues(filled, key, { ...reading, isTop: false })
  return {
    kind: 'list',
    items: [item.kind === 'list' ? { kind: 'anything' } : item],
    ...(options ? { options } : {}),
    ...(why ? { why } : {}),
  }
}

function guessGroup(groups: readonly SeenGroup[], key: string, reading: Reading): Guess {
  const keys = new Set(groups.flatMap(({ value }) => Object.keys(value)))
  const isDeep = reading.depth >= MOST_DEPTH
  if (isMap(groups, keys)) {
    const values = groups.flatMap(({ value, file }) => Object.values(value).map((inner) => ({ value: inner, file })))
    const filled = values.filter(({ value }) => value !== null)
    const item =
      filled.length === 0 || isDeep
        ? { kind: 'anything' }
        : guessValues(filled, key, { ...reading, isTop: false, depth: reading.depth + 1 })
    return { kind: 'map', items: [item], why: `${keys.size} different keys` }
  }
  if (isDeep || keys.size > MOST_KEYS || keys.size === 0) return { kind: 'anything' }
  const fields = guessFields(groups, { ...reading, isTop: false, depth: reading.depth + 1 })
  // A picture with its alternative text.
  const isPicture = fields.every(({ name, guess }) => (name === 'file' ? guess.kind === 'image' : name === 'alt'))
  return isPicture && fields.some(({ name }) => name === 'file') ? { kind: 'image' } : { kind: 'group', fields }
}

/** True for groups whose keys are data: each in few of them, or no names at all, with values of one type. */
function isMap(groups: readonly SeenGroup[], keys: ReadonlySet<string>): boolean {
  const total = groups.reduce((sum, { value }) => sum + Object.keys(value).length, 0)
  const types = new Set(
    groups.flatMap(({ value }) => Object.values(value).map((one) => (Array.isArray(one) ? 'list' : typeof one))),
  )
  if (keys.size < 3) return false
  const isStrange = [...keys].filter((key) => !/^[A-Za-z][A-Za-z0-9_]*$/.test(key)).length > keys.size / 2
  const isSparse = groups.length > 4 && keys.size > 8 && total / groups.length < keys.size / 4
  return isStrange || (isSparse && types.size === 1)
}
