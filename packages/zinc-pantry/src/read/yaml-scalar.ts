const INT = /^[-+]?[0-9]+$/
const OCTAL = /^0o[0-7]+$/
const HEX = /^0x[0-9a-fA-F]+$/
const FLOAT = /^[-+]?(?:\.[0-9]+|[0-9]+(?:\.[0-9]*)?)(?:[eE][-+]?[0-9]+)?$/
const INFINITE = /^[-+]?\.(?:inf|Inf|INF)$/
const NOT_A_NUMBER = /^\.(?:nan|NaN|NAN)$/

const WORDS = new Map<string, boolean | null>([
  ['', null],
  ['~', null],
  ['null', null],
  ['Null', null],
  ['NULL', null],
  ['true', true],
  ['True', true],
  ['TRUE', true],
  ['false', false],
  ['False', false],
  ['FALSE', false],
])

const CORE = 'tag:yaml.org,2002:'

const CORE_TAGS = new Set(['null', 'bool', 'int', 'float', 'str', 'map', 'seq'].map((name) => CORE + name))

/** True for the full name of a tag of the core schema (YAML 1.2.2, section 10.3), or of none. */
export const isCoreTag = (tag: string): boolean => tag === '!' || CORE_TAGS.has(tag)

/** The value of a plain scalar by the core schema of YAML 1.2.2, section 10.3.2. */
export function resolvePlainScalar(text: string): string | number | boolean | null {
  const first = text.charCodeAt(0)
  // Only digits, signs and a dot can start a number.
  if ((first >= 48 && first <= 57) || first === 43 || first === 45 || first === 46) return resolveNumber(text) ?? text
  if (text.length > 5) return text
  const word = WORDS.get(text)
  return word === undefined ? text : word
}

function resolveNumber(text: string): number | undefined {
  if (INT.test(text) || FLOAT.test(text)) return Number(text)
  if (OCTAL.test(text) || HEX.test(text)) return Number(text)
  if (INFINITE.test(text)) return text.startsWith('-') ? -Infinity : Infinity
  if (NOT_A_NUMBER.test(text)) return Number.NaN
  return undefined
}

/** The full name of a tag as written (`!!int`, `!<tag:…>`, `!e!thing`), by the handles in force. */
export function resolveTag(written: string, handles: ReadonlyMap<string, string>): string {
  if (written.startsWith('!<')) return written.slice(2, -1)
  const end = written.indexOf('!', 1)
  const handle = end === -1 ? '!' : written.slice(0, end + 1)
  const prefix = handles.get(handle) ?? (handle === '!!' ? CORE : handle)
  return prefix + written.slice(handle.length)
}

/** Marks a scalar that does not fit its explicit tag. */
export const UNFIT = Symbol('unfit')

/** The value of a scalar with an explicit tag; a tag outside the core schema leaves the text as it is. */
export function resolveTaggedScalar(text: string, tag: string): unknown {
  const fits = (value: unknown, right: boolean): unknown => (right ? value : UNFIT)
  const plain = resolvePlainScalar(text)
  switch (tag) {
    case `${CORE}null`:
      return fits(null, plain === null)
    case `${CORE}bool`:
      return fits(plain, typeof plain === 'boolean')
    case `${CORE}int`:
      return fits(plain, Number.isInteger(plain) && !/[.eE]/.test(text.replace(/^0x.*/, '')))
    case `${CORE}float`:
      return fits(plain, typeof plain === 'number')
    default:
      return text
  }
}
