/** What is known of a kind of value, as far as steps ask for it. */
interface StepHolder {
  readonly kind: string
  readonly zone?: string
}

/** A step of a path to what is computed of the value in front of it. */
interface ComputedStep {
  /** The kinds of value that have it. */
  readonly of: readonly string[]
  readonly gives: 'number' | 'text'
  read(value: never, argument: string): unknown
}

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

/** A text without case and marks, so that all ways to write it are one. */
export const foldText = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()

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

const sumOf = (numbers: readonly number[]): number => numbers.reduce((sum, one) => sum + one, 0)
const ofNumbers = (read: (numbers: readonly number[]) => number): ComputedStep => ({
  of: ['list'],
  gives: 'number',
  read(list: readonly unknown[], path) {
    const numbers = numbersIn(list, path)
    return numbers.length === 0 && read !== sumOf ? null : read(numbers)
  },
})

const STEPS: Readonly<Record<string, ComputedStep>> = {
  year: {
    of: ['date', 'instant'],
    gives: 'number',
    read: (value: string, zone) => Number(dayOf(value, zone).slice(0, 4)),
  },
  month: { of: ['date', 'instant'], gives: 'text', read: (value: string, zone) => dayOf(value, zone).slice(0, 7) },
  initial: { of: ['text'], gives: 'text', read: initialOf },
  folded: { of: ['text'], gives: 'text', read: foldText },
  band: { of: ['number'], gives: 'number', read: bandOf },
  sum: ofNumbers(sumOf),
  mean: ofNumbers((numbers) => sumOf(numbers) / numbers.length),
  minimum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.min(a, b))),
  maximum: ofNumbers((numbers) => numbers.reduce((a, b) => Math.max(a, b))),
}

/** The names of steps that a kind of value has. */
export const computedNames = (kind: string): readonly string[] =>
  Object.keys(STEPS).filter((name) => STEPS[name]?.of.includes(kind))

/** All names of such steps. */
export const COMPUTED_NAMES: readonly string[] = Object.keys(STEPS)

/** Takes a step apart: `sum(hours)`. */
export function parseStep(step: string): { readonly name: string; readonly argument: string } | undefined {
  if (!step.endsWith(')')) return undefined
  const open = step.indexOf('(')
  const name = step.slice(0, open)
  return Object.hasOwn(STEPS, name) ? { name, argument: step.slice(open + 1, -1) } : undefined
}

/** The kind of what a step computes of a kind of value; undefined where it computes nothing. */
export function computedKind({ kind }: StepHolder, step: string): 'number' | 'text' | undefined {
  const found = parseStep(step)
  const computed = found && STEPS[found.name]
  return computed?.of.includes(kind) ? computed.gives : undefined
}

/** A step as paths hold it: with the zone in which the days of instants are, and without spaces. */
export function canonicalStep({ kind, zone = '' }: StepHolder, step: string): string {
  const found = parseStep(step)
  if (!found) return step
  const argument = found.argument.replace(/\s/g, '')
  return `${found.name}(${argument === '' && kind === 'instant' ? zone : argument})`
}

/** Computes what a step leads to; undefined for a step that computes nothing. */
export function readComputed(value: unknown, step: string): { readonly value: unknown } | undefined {
  const found = parseStep(step)
  const computed = found && STEPS[found.name]
  return computed && { value: computed.read(value as never, found.argument) }
}
