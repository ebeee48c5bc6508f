import { type AST, RegExpParser } from '@eslint-community/regexpp'

type Node = AST.Element | AST.CharacterClassElement

/** A range of code points, both ends included. */
type Range = readonly [first: number, last: number]

const LAST = 0x10ffff
const DIGITS: readonly Range[] = [[0x30, 0x39]]
const WORDS: readonly Range[] = [
  [0x30, 0x39],
  [0x41, 0x5a],
  [0x5f, 0x5f],
  [0x61, 0x7a],
]
/** White space and line ends of ECMA-262, 12.2 and 12.3. */
const SPACES: readonly Range[] = [
  [0x09, 0x0d],
  [0x20, 0x20],
  [0xa0, 0xa0],
  [0x1680, 0x1680],
  [0x2000, 0x200a],
  [0x2028, 0x2029],
  [0x202f, 0x202f],
  [0x205f, 0x205f],
  [0x3000, 0x3000],
  [0xfeff, 0xfeff],
]
const LINE_ENDS: readonly Range[] = [
  [0x0a, 0x0a],
  [0x0d, 0x0d],
  [0x2028, 0x2029],
]
/** More than so many repetitions the other engine refuses. */
const MOST_REPETITIONS = 1_000

/** The code points of properties that were met so far: to find them takes a look at all there are. */
export type PropertyRanges = Map<string, readonly Range[]>

/** Syntax that the other engine does not have. */
class Untranslatable extends Error {}

/**
 * Translates a pattern of ECMA-262, with the flag `u`, into the syntax of RE2 with the same meaning; undefined where there
 * is none: for looking ahead and behind, references to groups, `\B`, and more than 1,000 repetitions. Everything that two
 * engines could read differently is written out as code points. `properties` remembers those of properties of Unicode.
 */
export function translatePattern(source: string, properties: PropertyRanges = new Map()): string | undefined {
  try {
    return alternatives(
      new RegExpParser({ ecmaVersion: 2024 }).parsePattern(source, 0, source.length, { unicode: true }),
      properties,
    )
  } catch (error) {
    if (error instanceof Untranslatable) return undefined
    throw error
  }
}

const alternatives = (
  { alternatives: all }: { readonly alternatives: readonly AST.Alternative[] },
  properties: PropertyRanges,
): string => all.map(({ elements }) => elements.map((one) => translate(one, properties)).join('')).join('|')

function translate(node: Node, properties: PropertyRanges): string {
  switch (node.type) {
    case 'Group':
      if (node.modifiers) throw new Untranslatable()
      return `(?:${alternatives(node, properties)})`
    case 'CapturingGroup':
      return `(?:${alternatives(node, properties)})`
    case 'Character':
      return codePoint(node.value)
    case 'CharacterSet':
      return classOf(rangesOf(node, properties))
    case 'CharacterClass':
      return classOf(rangesIn(node, properties))
    case 'Quantifier':
      return `(?:${translate(node.element, properties)})${quantifier(node)}`
    case 'Assertion':
      if (node.kind === 'start') return '^'
      if (node.kind === 'end') return '$'
      if (node.kind === 'word' && !node.negate) return '\\b'
      throw new Untranslatable()
    default:
      throw new Untranslatable()
  }
}

function quantifier({ min, max, greedy }: AST.Quantifier): string {
  if (min > MOST_REPETITIONS || (max !== Number.POSITIVE_INFINITY && max > MOST_REPETITIONS)) throw new Untranslatable()
  const count = min === max ? `{${min}}` : `{${min},${max === Number.POSITIVE_INFINITY ? '' : max}}`
  return greedy ? count : `${count}?`
}

const codePoint = (value: number): string => `\\x{${value.toString(16)}}`

/** A class of characters. An empty one, which matches nothing, is written as the opposite of all. */
const classOf = (ranges: readonly Range[]): string =>
  ranges.length === 0
    ? `[^\\x{0}-\\x{${LAST.toString(16)}}]`
    : `[${ranges.map(([first, last]) => `${codePoint(first)}-${codePoint(last)}`).join('')}]`

function rangesIn({ elements, negate }: AST.CharacterClass, properties: PropertyRanges): readonly Range[] {
  const ranges = elements.flatMap((element): readonly Range[] => {
    if (element.type === 'Character') return [[element.value, element.value]]
    if (element.type === 'CharacterClassRange') return [[element.min.value, element.max.value]]
    if (element.type === 'CharacterSet') return rangesOf(element, properties)
    throw new Untranslatable()
  })
  return negate ? invert(ranges) : merge(ranges)
}

function rangesOf(set: AST.CharacterSet, properties: PropertyRanges): readonly Range[] {
  if (set.kind === 'any') return invert(LINE_ENDS)
  const known = { digit: DIGITS, word: WORDS, space: SPACES, property: undefined }[set.kind]
  const ranges = known ?? propertyRanges(set.raw.replace(/^\\P/, '\\p'), properties)
  return 'negate' in set && set.negate ? invert(ranges) : ranges
}

/** The code points of a property, asked of the engine whose meaning counts. */
function propertyRanges(raw: string, properties: PropertyRanges): readonly Range[] {
  const known = properties.get(raw)
  if (known) return known
  const property = new RegExp(`^${raw}$`, 'u')
  const ranges: [number, number][] = []
  for (let value = 0; value <= LAST; value++) {
    if (!property.test(String.fromCodePoint(value))) continue
    const last = ranges.at(-1)
    if (last?.[1] === value - 1) last[1] = value
    else ranges.push([value, value])
  }
  properties.set(raw, ranges)
  return ranges
}

/** Ranges in order, those that meet made one. */
function merge(ranges: readonly Range[]): readonly Range[] {
  const merged: [number, number][] = []
  for (const [first, last] of [...ranges].sort((a, b) => a[0] - b[0])) {
    const before = merged.at(-1)
    if (before && first <= before[1] + 1) before[1] = Math.max(before[1], last)
    else merged.push([first, last])
  }
  return merged
}

function invert(ranges: readonly Range[]): readonly Range[] {
  const inverted: Range[] = []
  let next = 0
  for (const [first, last] of merge(ranges)) {
    if (first > next) inverted.push([next, first - 1])
    next = last + 1
  }
  return next > LAST ? inverted : [...inverted, [next, LAST]]
}
