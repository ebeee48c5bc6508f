import type { ComputeTools, ParsedStep } from './computed-steps.ts'

/** Computes something of a value that is there; null for nothing. */
type Compute<Value> = (value: Value) => unknown
/** Makes what computes, by what stands between the parentheses of a step; it is made once for many values. */
type Compile<Value> = (argument: string, tools: ComputeTools) => Compute<Value>

/** A letter, or a digit, with which a text can begin. */
const FIRST = /[\p{L}\p{N}]\p{M}*/u

/** The letter under which a text stands in an index by the rules of a language (BCP 47); `#` for digits, null without any. */
function compileInitial(locale: string): Compute<string> {
  const language = locale || 'und'
  const { compare } = new Intl.Collator(language, { sensitivity: 'base' })
  return (value) => {
    const text = value.normalize('NFC')
    const start = text.search(FIRST)
    if (start === -1) return null
    const [letter = '', next = ''] = text.slice(start).match(/.\p{M}*/gsu) ?? []
    if (/\p{N}/u.test(letter)) return '#'
    // Two letters that stand for one come behind every other text that begins with the first of them.
    const isPair = /\p{L}/u.test(next) && compare(letter + next, `${letter}\u9fff`) > 0
    const [base = ''] = letter.normalize('NFD')
    const own = compare(letter, base) === 0 ? base : letter
    return own.toLocaleUpperCase(language) + (isPair ? next.toLocaleLowerCase(language) : '')
  }
}

/** The day of a date, or of an instant in a zone, as `YYYY-MM-DD`. */
function compileDay(zone: string): (value: string) => string {
  if (zone === '') return (value) => value.slice(0, 10)
  const { format } = new Intl.DateTimeFormat('sv', { timeZone: zone, dateStyle: 'short' })
  return (value) => (value.length === 10 ? value : format(new Date(value)))
}

const compileYear: Compile<string> = (zone) => {
  const dayOf = compileDay(zone)
  return (value) => Number(dayOf(value).slice(0, 4))
}

const compileMonth: Compile<string> = (zone) => {
  const dayOf = compileDay(zone)
  return (value) => dayOf(value).slice(0, 7)
}

/** The place of a value among the words of a choice. */
const compileOrdinal: Compile<string> = (words) => {
  const ordinals = new Map(words.split(',').map((word, at) => [decodeURIComponent(word), at]))
  return (value) => ordinals.get(value) ?? null
}

/** The largest of some bounds that a number reaches. */
const compileBand: Compile<number> = (argument) => {
  const bounds = argument.split(',').map(Number)
  return (value) => bounds.findLast((bound) => value >= bound) ?? null
}

/** A number that looks like chance, the same for a text and a seed on every machine (FNV-1a, mixed once more). */
const compileShuffled: Compile<string> = (seed) => (value) => {
  let hash = 0x811c9dc5
  for (const sign of `${seed} ${value}`) hash = Math.imul(hash ^ (sign.codePointAt(0) as number), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}

const EARTH_KM = 6371.0088
const RADIAN = Math.PI / 180

/** Kilometres from a position to a point, along the surface of a sphere as large as the Earth. */
const compileDistance: Compile<Readonly<Record<string, unknown>>> = (point, { coordinateNames }) => {
  const [north = 0, east = 0] = point.split(',').map(Number)
  return (value) => {
    const [latitude, longitude] = coordinateNames(Object.keys(value))?.map((name) => value[name]) ?? []
    if (typeof latitude !== 'number' || typeof longitude !== 'number') return null
    const [a, b] = [latitude * RADIAN, north * RADIAN]
    const half =
      Math.sin((b - a) / 2) ** 2 + Math.cos(a) * Math.cos(b) * Math.sin(((east - longitude) * RADIAN) / 2) ** 2
    return 2 * EARTH_KM * Math.asin(Math.min(1, Math.sqrt(half)))
  }
}

const sumOf = (numbers: readonly number[]): number => numbers.reduce((sum, one) => sum + one, 0)

/** Something of the numbers at a path in the items of a list; `ofNone` where there are none. */
const ofNumbers =
  (read: (numbers: readonly number[]) => number, ofNone: number | null = null): Compile<readonly unknown[]> =>
  (path) => {
    const names = path === '' ? [] : path.split('.')
    return (list) => {
      const values = list.map((item) =>
        names.reduce<unknown>((at, name) => (at as Readonly<Record<string, unknown>> | null | undefined)?.[name], item),
      )
      const numbers = values.filter((value) => typeof value === 'number')
      return numbers.length === 0 ? ofNone : read(numbers)
    }
  }

const COMPILERS: Readonly<Record<string, Compile<never>>> = {
  year: compileYear,
  month: compileMonth,
  initial: compileInitial,
  ordinal: compileOrdinal,
  shuffled: compileShuffled,
  distance: compileDistance,
  folded: (_, { foldText }) => foldText,
  band: compileBand,
  sum: ofNumbers(sumOf, 0),
  mean: ofNumbers((numbers) => sumOf(numbers) / numbers.length),
  minimum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.min(a, b))),
  maximum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.max(a, b))),
}

/** Makes what computes a step of values; null of what is not there. It imports nothing, as what is loaded later does. */
export function compileStep({ name, argument }: ParsedStep, tools: ComputeTools): (value: unknown) => unknown {
  const compute = COMPILERS[name]?.(argument, tools) as Compute<unknown>
  return (value) => (value === null || value === undefined ? null : compute(value))
}
