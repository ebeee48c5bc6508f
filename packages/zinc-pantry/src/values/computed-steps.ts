/** What is known of a kind of value, as far as steps ask for it. */
interface StepHolder {
  readonly kind: string
  readonly zone?: string
  readonly choices?: readonly string[]
  readonly fields?: Readonly<Record<string, unknown>>
}

/** A step of a path to what is computed of the value in front of it. */
interface ComputedStep {
  /** The kinds of value that have it. */
  readonly of: readonly string[]
  readonly gives: 'number' | 'text'
  /** What a value must have beside its kind. */
  needs?(holder: StepHolder): boolean
}

/** A text without case and marks, so that all ways to write it are one. */
export const foldText = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()

const COORDINATES = [/^lat(?:itude)?$/i, /^(?:lon|lng|long(?:itude)?)$/i]

/** The names of the two numbers of a position among those of a group. */
export function coordinateNames(names: readonly string[]): readonly [latitude: string, longitude: string] | undefined {
  const [latitude, longitude] = COORDINATES.map((pattern) => names.find((name) => pattern.test(name)))
  return latitude === undefined || longitude === undefined ? undefined : [latitude, longitude]
}

const OF_NUMBERS = { of: ['list'], gives: 'number' } as const
const STEPS: Readonly<Record<string, ComputedStep>> = {
  year: { of: ['date', 'instant'], gives: 'number' },
  month: { of: ['date', 'instant'], gives: 'text' },
  initial: { of: ['text'], gives: 'text' },
  ordinal: { of: ['text'], gives: 'number', needs: ({ choices }) => choices !== undefined },
  shuffled: { of: ['text'], gives: 'number' },
  distance: {
    of: ['group'],
    gives: 'number',
    needs: ({ fields = {} }) => coordinateNames(Object.keys(fields)) !== undefined,
  },
  folded: { of: ['text'], gives: 'text' },
  band: { of: ['number'], gives: 'number' },
  sum: OF_NUMBERS,
  mean: OF_NUMBERS,
  minimum: OF_NUMBERS,
  maximum: OF_NUMBERS,
}

const hasStep = (holder: StepHolder, step: ComputedStep | undefined): step is ComputedStep =>
  step?.of.includes(holder.kind) === true && step.needs?.(holder) !== false

/** The names of steps that a value has. */
export const computedNames = (holder: StepHolder): readonly string[] =>
  Object.keys(STEPS).filter((name) => hasStep(holder, STEPS[name]))

/** All names of such steps. */
export const COMPUTED_NAMES: readonly string[] = Object.keys(STEPS)

/** A step, taken apart. */
export interface ParsedStep {
  readonly name: string
  readonly argument: string
}

/** What is computed with. */
export interface ComputeTools {
  readonly coordinateNames: typeof coordinateNames
  readonly foldText: typeof foldText
}

/** Takes a step apart: `sum(hours)`. */
export function parseStep(step: string): ParsedStep | undefined {
  if (!step.endsWith(')')) return undefined
  const open = step.indexOf('(')
  const name = step.slice(0, open)
  return Object.hasOwn(STEPS, name) ? { name, argument: step.slice(open + 1, -1) } : undefined
}

/** True for a path to what is computed of a value. */
export const isComputed = (path: readonly string[]): boolean => parseStep(path.at(-1) ?? '') !== undefined

/** The kind of what a step computes of a kind of value; undefined where it computes nothing. */
export function computedKind(holder: StepHolder, step: string): 'number' | 'text' | undefined {
  const found = parseStep(step)
  const computed = found && STEPS[found.name]
  return hasStep(holder, computed) ? computed.gives : undefined
}

/** A step as paths hold it: with the zone in which the days of instants are, the words of a choice, and without spaces. */
export function canonicalStep({ kind, zone = '', choices = [] }: StepHolder, step: string): string {
  const found = parseStep(step)
  if (!found) return step
  if (found.name === 'ordinal') return `ordinal(${choices.map(encodeURIComponent).join(',')})`
  const argument = found.argument.replace(/\s/g, '')
  return `${found.name}(${argument === '' && kind === 'instant' ? zone : argument})`
}
