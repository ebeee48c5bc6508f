import type { Guess, Surroundings } from './guess.ts'

/** A single value, and the file that it stands in. */
export interface SeenValue {
  readonly value: unknown
  readonly file: string
}

const DAY = /^\d{4}-(?:0[1-9]|1[0-2])-(?:0[1-9]|[12]\d|3[01])$/
const INSTANT = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(?::\d\d(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)$/
const LOCAL_TIME = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d(?::\d\d(?:\.\d+)?)?$/
const IMAGE = /\.(?:png|jpe?g|gif|webp|avif|svg)$/i
const FILE = /^[^\s:?#]+\.[a-z0-9]{1,5}$/i
const MARKED = /\[[^[\]]+\]\([^()]+\)|\*\*[^*]+\*\*|^#{1,6} |^[-*] |`[^`]+`/m

/** Forms of texts, the narrowest first. */
const FORMS: readonly { readonly kind: string; readonly pattern: RegExp; readonly options?: object }[] = [
  { kind: 'date', pattern: DAY },
  { kind: 'instant', pattern: INSTANT },
  { kind: 'instant', pattern: LOCAL_TIME, options: { zone: 'UTC' } },
  { kind: 'time', pattern: /^(?:[01]\d|2[0-3]):[0-5]\d$/ },
  { kind: 'duration', pattern: /^P(?=.)(?:\d+W|(?:\d+D)?(?:T(?:\d+H)?(?:\d+M)?(?:\d+S)?)?)$/ },
  { kind: 'url', pattern: /^https?:\/\/[^\s]+$/ },
  { kind: 'email', pattern: /^[^\s@]+@[^\s@.]+(?:\.[^\s@.]+)+$/ },
  { kind: 'colour', pattern: /^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/i },
]

/** Words that stand for true and false. */
const YES = ['yes', 'Yes', 'true', 'Y', 'y']
const NO = ['no', 'No', 'false', 'N', 'n']

/** Of so many values each may be a word of its own. */
const FEWEST_OF_A_CHOICE = 6
const MOST_WORDS = 12
const LONGEST_WORD = 30

/** A single exception among so many is a mistake, not a kind. */
const MISTAKE_SHARE = 0.04

/** What single values most likely are; undefined where nothing fits nearly all of them. */
export function guessScalar(values: readonly SeenValue[], key: string, surroundings: Surroundings): Guess {
  const mostly = (test: (value: unknown) => boolean): boolean => {
    const misses = values.filter(({ value }) => !test(value)).length
    return misses === 0 || (misses <= 3 && misses <= values.length * MISTAKE_SHARE)
  }
  if (mostly((value) => typeof value === 'boolean')) return { kind: 'flag' }
  const words = new Set(values.flatMap(({ value }) => (typeof value === 'string' ? [value] : [])))
  const isFlag = mostly((value) => typeof value === 'boolean' || [...YES, ...NO].includes(String(value)))
  if (isFlag && words.size > 0) {
    const [yes, no] = [YES, NO].map((known) => known.filter((word) => words.has(word)))
    return { kind: 'flag', options: { ...(yes?.length ? { true: yes } : {}), ...(no?.length ? { false: no } : {}) } }
  }
  if (mostly((value) => Number.isSafeInteger(value))) return { kind: 'int' }
  if (mostly((value) => typeof value === 'number')) return { kind: 'number' }
  if (mostly((value) => typeof value === 'string')) return guessText(values, key, surroundings)
  const texts = values.filter(({ value }) => typeof value === 'string')
  const others = values.filter(({ value }) => typeof value !== 'string')
  if (texts.length === 0)
    return {
      kind: 'either',
      items: [
        guessScalar(
          others.filter(({ value }) => typeof value === 'boolean'),
          key,
          surroundings,
        ),
        { kind: 'number' },
      ],
    }
  return {
    kind: 'either',
    items: [{ kind: 'text' }, guessScalar(others, key, surroundings)],
    why: `${texts.length} texts, ${others.length} others`,
  }
}

function guessText(values: readonly SeenValue[], key: string, surroundings: Surroundings): Guess {
  const texts = values.flatMap(({ value, file }) => (typeof value === 'string' ? [{ text: value, file }] : []))
  const filled = texts.filter(({ text }) => text !== '')
  if (filled.length === 0) return { kind: 'text' }
  const form = FORMS.find(({ pattern }) => {
    const misses = filled.filter(({ text }) => !pattern.test(text)).length
    return misses === 0 || (misses <= 3 && misses <= filled.length * MISTAKE_SHARE)
  })
  if (form) return { kind: form.kind, ...(form.options ? { options: form.options as Record<string, unknown> } : {}) }
  if (filled.every(({ text }) => FILE.test(text))) {
    const found = filled.filter(({ text, file }) => surroundings.isFile(text, file)).length
    const missing = filled.length - found
    if (found > 0 && missing <= Math.max(1, filled.length * 0.1))
      return {
        kind: filled.every(({ text }) => IMAGE.test(text)) ? 'image' : 'file',
        ...(missing > 0 ? { why: `${missing} not found` } : {}),
      }
  }
  const reference = surroundings.targetOf(
    key,
    filled.map(({ text }) => text),
  )
  if (reference) return reference
  const distinct = new Map<string, number>()
  for (const { text } of filled) distinct.set(text, (distinct.get(text) ?? 0) + 1)
  if (isChoice(distinct, filled.length))
    return { kind: 'choice', words: [...distinct.keys()].sort(), why: `${distinct.size} different` }
  const marked = filled.filter(({ text }) => MARKED.test(text)).length
  if (filled.some(({ text }) => text.includes('\n')) && marked > 0)
    return { kind: 'markdown', why: `${marked} with marks` }
  return { kind: 'text' }
}

/** True for a few words that come again and again. */
function isChoice(distinct: ReadonlyMap<string, number>, total: number): boolean {
  if (total < FEWEST_OF_A_CHOICE || distinct.size < 2 || distinct.size > MOST_WORDS || total < distinct.size * 3)
    return false
  return [...distinct.keys()].every((word) => word.length <= LONGEST_WORD && !/[\n.!?]|\d{4}/.test(word))
}
