import type { ComputeTools, ParsedStep } from './computed-steps.ts'

/** A letter, or a digit, with which a text can begin. */
const FIRST = /[\p{L}\p{N}]\p{M}*/u

/** The letter under which a text stands in an index by the rules of a language (BCP 47); `#` for digits, null without any. */
function initialOf(text: string, locale: string): string | null {
  const start = text.normalize('NFC').search(FIRST)
  const [letter = '', next = ''] =
    start === -1
      ? []
      : (text
          .normalize('NFC')
          .slice(start)
          .match(/.\p{M}*/gsu) ?? [])
  if (letter === '') return null
  if (/\p{N}/u.test(letter)) return '#'
  const { compare } = new Intl.Collator(locale || 'und', { sensitivity: 'base' })
  // Two letters that stand for one come behind every other text that begins with the first of them.
  const isPair = /\p{L}/u.test(next) && compare(letter + next, `${letter}\u9fff`) > 0
  const [base = ''] = letter.normalize('NFD')
  const own = compare(letter, base) === 0 ? base : letter
  return own.toLocaleUpperCase(locale || 'und') + (isPair ? next.toLocaleLowerCase(locale || 'und') : '')
}

/** The day of a date, or of an instant in a zone, as `YYYY-MM-DD`. */
function dayOf(value: string, zone: string): string {
  if (zone === '' || value.length === 10) return value.slice(0, 10)
  return new Intl.DateTimeFormat('sv', { timeZone: zone, dateStyle: 'short' }).format(new Date(value))
}

/** The largest of some bounds that a number reaches; null for one below all. */
const bandOf = (value: number, bounds: string): number | null =>
  bounds
    .split(',')
    .map(Number)
    .findLast((bound) => value >= bound) ?? null

/** The numbers at a path in the items of a list. */
function numbersIn(list: readonly unknown[], path: string): readonly number[] {
  const names = path === '' ? [] : path.split('.')
  const values = list.map((item) =>
    names.reduce<unknown>((at, name) => (at as Readonly<Record<string, unknown>> | null | undefined)?.[name], item),
  )
  return values.filter((value) => typeof value === 'number')
}

/** A number that looks like chance, the same for a text and a seed on every machine (FNV-1a, mixed once more). */
function shuffle(text: string, seed: string): number {
  let hash = 0x811c9dc5
  for (const sign of `${seed} ${text}`) hash = Math.imul(hash ^ (sign.codePointAt(0) as number), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}

const EARTH_KM = 6371.0088
const RADIAN = Math.PI / 180

/** Kilometres from a position to a point, along the surface of a sphere as large as the Earth. */
function distanceTo(
  value: Readonly<Record<string, unknown>>,
  point: string,
  { coordinateNames }: ComputeTools,
): number | null {
  const names = coordinateNames(Object.keys(value))
  const [latitude, longitude] = names?.map((name) => value[name]) ?? []
  if (typeof latitude !== 'number' || typeof longitude !== 'number') return null
  const [north = 0, east = 0] = point.split(',').map(Number)
  const [a, b] = [latitude * RADIAN, north * RADIAN]
  const half = Math.sin((b - a) / 2) ** 2 + Math.cos(a) * Math.cos(b) * Math.sin(((east - longitude) * RADIAN) / 2) ** 2
  return 2 * EARTH_KM * Math.asin(Math.min(1, Math.sqrt(half)))
}

const sumOf = (numbers: readonly number[]): number => numbers.reduce((sum, one) => sum + one, 0)
/** Something of the numbers of a list, where there are any. */
const ofNumbers =
  (read: (numbers: readonly number[]) => number) =>
  (list: readonly unknown[], path: string): number | null => {
    const numbers = numbersIn(list, path)
    return numbers.length === 0 ? null : read(numbers)
  }

const COMPUTE = {
  year: (value: string, zone: string) => Number(dayOf(value, zone).slice(0, 4)),
  month: (value: string, zone: string) => dayOf(value, zone).slice(0, 7),
  initial: initialOf,
  ordinal(value: string, words: string) {
    const at = words.split(',').indexOf(encodeURIComponent(value))
    return at === -1 ? null : at
  },
  shuffled: shuffle,
  distance: distanceTo,
  folded: (value: string, _: string, { foldText }: ComputeTools) => foldText(value),
  band: bandOf,
  sum: (list: readonly unknown[], path: string) => sumOf(numbersIn(list, path)),
  mean: ofNumbers((numbers) => sumOf(numbers) / numbers.length),
  minimum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.min(a, b))),
  maximum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.max(a, b))),
}

/** Computes what a step leads to from a value; null where there is nothing. It imports nothing, as what is loaded later does. */
export function computeStep(value: unknown, { name, argument }: ParsedStep, tools: ComputeTools): unknown {
  const compute = COMPUTE[name as keyof typeof COMPUTE] as (...given: unknown[]) => unknown
  return value === null || value === undefined ? null : compute(value, argument, tools)
}
