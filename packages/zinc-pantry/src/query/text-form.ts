import { canonicalStep, coordinateNames } from '../values/computed-steps.ts'
import { operatorsOf, WRITTEN_OPERATORS } from '../values/operators.ts'
import type { Comparison, ConditionTree, Operator } from './condition.ts'
import { withinTree } from './positions.ts'
import { findWrongStep, type Shape, type Shapes, stepInto } from './shape.ts'
import { readTokens, type Token } from './text-form-lexer.ts'
import { readPathNames } from './text-form-names.ts'
import { describeUnknown, type Suggest, TextFormError, type TextFormProblem } from './text-form-problem.ts'
import { NEEDS, OPERATORS, SIGNS, scalarOf } from './text-form-values.ts'
import { expectedOf, isPattern, type Reading, readScalar, testOf, whyIncomparable } from './value-test.ts'

/** A condition read from its text form, or why it could not be. */
export type ReadCondition = { readonly condition: ConditionTree } | { readonly problem: TextFormProblem }

/**
 * Reads the text form of a condition on the entries of a collection.
 *
 * ```text
 * condition = all { "or" all }
 * all       = one { "and" one }
 * one       = "not" one | "(" condition ")" | PATH quantifier "(" condition ")" | test
 * quantifier= "some" | "every" | "none"
 * test      = PATH sign ( value | "@." PATH ) | PATH [ "not" ] "in" "(" [ value { "," value } ] ")"
 *           | PATH "between" value "and" value | PATH ( "includes" | "startsWith" | "hasWords" | "matches" ) value
 *           | PATH ( "present" | "absent" ) | PATH | PATH ".within(" south "," west "," north "," east ")"
 * sign      = "=" | "!=" | "<" | "<=" | ">" | ">="
 * PATH      = ( NAME { "." NAME } | "@" ) [ "." STEP "(" … ")" ]
 * STEP      = "count" | "keys" | "year" | "month" | "initial" | "folded" | "band" | "sum" | "mean" | "minimum" | "maximum"
 *           | "ordinal" | "shuffled" | "distance"
 * NAME      = word | quoted
 * ```
 *
 * A path of names with dots leads through groups, references and lists; through a list it asks for at
 * least one item. `@` is the item itself of a list of single values: `tags every (@ != mill)`; `@.` in front of a path in the place
 * of a value is another field beside the first: `starts < @.ends`. A path alone must be a
 * flag and asks for true. Values, and names of fields, with spaces or signs in them are quoted. Of a list `present` says
 * that it has items.
 *
 * @example
 * ```ts
 * import { createNodeHost, openContent } from 'zinc-pantry/engine'
 * import { readCondition, runQuery } from 'zinc-pantry/query'
 *
 * const { site } = await openContent({ host: createNodeHost('.'), configurationFile: 'pantry.config.ts' })
 * const read = readCondition('region.name = North and beds >= 20', 'huts', site.shapes)
 * if ('problem' in read) console.log(read.problem.message)
 * else console.log((await runQuery(site, { collection: 'huts', condition: read.condition })).total)
 * ```
 */
export const readCondition = (source: string, collection: string, shapes: Shapes, suggest?: Suggest): ReadCondition =>
  readConditionOn(shapes.get(collection) as Shape, source, { shapes, suggest })

/** Reads the text form of a condition on values of a shape, such as the items of a list. */
export function readConditionOn(
  shape: Shape,
  source: string,
  { shapes, suggest }: { readonly shapes: Shapes; readonly suggest?: Suggest | undefined },
): ReadCondition {
  try {
    const tokens = readTokens(source)
    return { condition: createParser(tokens, { source, shapes, suggest }).whole(shape) }
  } catch (error) {
    if (error instanceof TextFormError) return { problem: error.problem }
    throw error
  }
}

type Wrap = (tree: ConditionTree) => ConditionTree

/** A path that was followed: what is at its end, and the lists that a test on it must enter. */
interface Target {
  readonly shape: Shape
  readonly path: readonly string[]
  readonly wrap: Wrap
  /** True where the way there went through a list. */
  readonly isWithin: boolean
  readonly token: Token
}

interface Surroundings {
  readonly source: string
  readonly shapes: Shapes
  readonly suggest: Suggest | undefined
}

function createParser(tokens: readonly Token[], { source, shapes, suggest }: Surroundings) {
  let position = 0
  const peek = (): Token => tokens[position] as Token
  const take = (): Token => tokens[position++] as Token
  const fail = (message: string, { start, end }: Token = peek(), help?: string): never => {
    throw new TextFormError({ message, start, end: Math.max(end, start + 1), ...(help ? { help } : {}) })
  }
  const isWord = (word: string): boolean => peek().kind === 'word' && peek().text === word
  const accept = (text: string): boolean => {
    if (peek().text !== text || peek().kind === 'quoted' || peek().kind === 'end') return false
    position++
    return true
  }
  const expect = (text: string): void => {
    if (!accept(text)) fail(`Expected ${text}${peek().kind === 'end' ? ' at the end' : `, found ${peek().text}`}`)
  }

  function whole(shape: Shape): ConditionTree {
    const tree = condition(shape)
    if (peek().kind !== 'end') fail(`Expected "and", "or" or the end, found ${peek().text}`)
    return tree
  }

  function condition(shape: Shape): ConditionTree {
    const parts = [all(shape)]
    while (accept('or')) parts.push(all(shape))
    return parts.length === 1 ? (parts[0] as ConditionTree) : { kind: 'or', parts }
  }

  function all(shape: Shape): ConditionTree {
    const parts = [one(shape)]
    while (accept('and')) parts.push(one(shape))
    return parts.length === 1 ? (parts[0] as ConditionTree) : { kind: 'and', parts }
  }

  function one(shape: Shape): ConditionTree {
    if (accept('not')) return { kind: 'not', part: one(shape) }
    if (accept('(')) {
      const tree = condition(shape)
      expect(')')
      return tree
    }
    return test(shape)
  }

  function test(shape: Shape): ConditionTree {
    const token = takePath()
    const box = /^(.+)\.within\(([^()]*)\)$/s.exec(token.text)
    if (box) return withinBox({ ...token, text: box[1] as string }, box[2] as string, shape)
    const quantifier = (['some', 'every', 'none'] as const).find(isWord)
    const target = follow(token, shape)
    if (quantifier) return quantified(quantifier, target)
    const sign = peek().kind === 'sign' ? SIGNS.get(peek().text) : undefined
    if (sign && tokens[position + 1]?.text.startsWith('@.') && tokens[position + 1]?.kind === 'word')
      return compared(sign, target, shape)
    if (sign) return signed(sign, target)
    if (accept('present')) return finish(target, 'isPresent', [])
    if (accept('absent')) return finish(target, 'isAbsent', [])
    return testByWord(target)
  }

  /** A position within a bounding box: `position.within(54, -4, 55, -3)`. */
  function withinBox(token: Token, written: string, from: Shape): ConditionTree {
    const { path, shape, wrap } = enterList(follow(token, from))
    const names = coordinateNames(Object.keys(shape.fields ?? {}))
    const bounds = written.split(',').map((bound) => (bound.trim() === '' ? Number.NaN : Number(bound)))
    const [south, west, north, east] = bounds as [number, number, number, number]
    if (!names || bounds.length !== 4 || bounds.some(Number.isNaN))
      return fail(
        'within(…) of a group with a latitude and a longitude takes south, west, north and east, such as within(54, -4, 55, -3)',
        token,
      )
    return wrap(withinTree(path, names, { south, west, north, east }))
  }

  /** A path: words and quoted names with nothing but dots between them. */
  function takePath(): Token {
    const first = take()
    if (first.kind !== 'word' && first.kind !== 'quoted')
      fail(`Expected the name of a field${first.text ? `, found ${first.text}` : ''}`, first)
    const { start } = first
    let { end } = first
    for (let next = peek(); next.start === end && next.kind !== 'sign' && next.kind !== 'end'; next = peek()) {
      if (source[end] !== '.' && source[end - 1] !== '.') break
      end = take().end
    }
    return { kind: 'word', text: source.slice(start, end), start, end }
  }

  function testByWord(target: Target): ConditionTree {
    const single = enterList(target)
    const operator = (['between', 'startsWith', 'hasWords', 'matches', 'includes'] as const).find(isWord)
    if (operator === 'includes' && target.shape.kind === 'list') {
      take()
      return finish(single, 'is', [value(single, 'is')])
    }
    if (operator) {
      suits(operator, single, take())
      return operator === 'between' ? between(single) : finish(single, operator, [value(single, operator)])
    }
    if (accept('in')) return finish(single, 'isOneOf', valueList(single))
    if (isWord('not') && tokens[position + 1]?.text === 'in') {
      position += 2
      const values = valueList(single)
      return target.isWithin || single !== target
        ? { kind: 'not', part: finish(single, 'isOneOf', values) }
        : finish(single, 'isNoneOf', values)
    }
    const { kind, choices } = single.shape
    if (kind === 'flag') return finish(single, 'is', [{ value: true }])
    const fitting = operatorsOf(kind, choices !== undefined)
    const written = OPERATORS.filter((one) => fitting.includes(one)).map((one) => WRITTEN_OPERATORS[one])
    if (target.shape.kind === 'list') written.push('some', 'every', 'none')
    return fail(`Expected one of ${written.join(' ')} after ${target.token.text}`)
  }

  function quantified(kind: 'some' | 'every' | 'none', { shape, path, wrap, token }: Target): ConditionTree {
    if (shape.kind !== 'list') return fail(`${token.text} is no list`, token)
    take()
    expect('(')
    const part = condition(shape.item)
    expect(')')
    return wrap({ kind, path, part })
  }

  function signed(operator: Operator, found: Target): ConditionTree {
    const sign = take()
    const target = enterList(found)
    if (operator !== 'is' && operator !== 'isNot') suits(operator, target, sign)
    // Through a list the whole is negated: no item is the value.
    if (operator === 'isNot' && (found.isWithin || target !== found))
      return { kind: 'not', part: finish(target, 'is', [value(target, 'is')]) }
    return finish(target, operator, [value(target, operator)])
  }

  /** Another field of the same entry, or of the same item, in place of a value. */
  function compared(operator: Operator, target: Target, shape: Shape): ConditionTree {
    const sign = take()
    const token = take()
    const other = follow(token, shape)
    for (const one of [target, other])
      if (one.isWithin || one.shape.kind === 'list')
        return fail(`${one.token.text} goes through a list: compare its items by some (…)`, one.token)
    if (operator !== 'is' && operator !== 'isNot') suits(operator, target, sign)
    const wrong = whyIncomparable(target.shape, other.shape, operator)
    if (wrong !== undefined) return fail(`${token.text} ${wrong}`, token)
    return { kind: 'compare', path: target.path, operator: operator as Comparison, other: other.path }
  }

  function between(target: Target): ConditionTree {
    const low = value(target, 'between')
    expect('and')
    return finish(target, 'between', [low, value(target, 'between')])
  }

  /** Refuses an operator that does not suit what stands before it. */
  function suits(operator: Operator, { shape, token }: Target, sign: Token): void {
    const { kind, choices } = shape
    if (!operatorsOf(kind, choices !== undefined).includes(operator))
      fail(`${sign.text} needs ${NEEDS[operator] ?? 'a number, a date or a text'}; ${token.text} is none`, sign)
  }

  const finish = ({ path, wrap }: Target, operator: Operator, readings: readonly Reading[]): ConditionTree =>
    wrap(testOf(path, operator, readings))

  function follow(token: Token, start: Shape): Target {
    let target: Target = { shape: start, path: [], wrap: (tree) => tree, isWithin: false, token }
    if (token.text === '@') return target
    for (const written of readPathNames(token.text.replace(/^@\./, ''))) {
      if (!stepInto(target.shape, written, shapes)) target = enterList(target)
      const { shape, path } = target
      const name = canonicalStep(shape, written)
      checkStep(shape, name, token)
      const next = stepInto(shape, name, shapes)
      if (!next)
        throw new TextFormError({
          ...describeUnknown(name, shape, shapes, suggest),
          start: token.start,
          end: token.end,
        })
      target = { ...target, shape: next, path: [...path, name] }
    }
    return target
  }

  /** Refuses what is computed of something that items do not have. */
  function checkStep(shape: Shape, step: string, token: Token): void {
    const wrong = findWrongStep(shape, step)
    if (wrong !== undefined) fail(wrong, token)
  }

  /** A test on a list asks for at least one item. */
  function enterList(target: Target): Target {
    if (target.shape.kind !== 'list') return target
    const { shape, path, wrap, token } = target
    const within: Wrap = (part) => wrap({ kind: 'some', path, part })
    return { shape: shape.item, path: [], token, isWithin: true, wrap: within }
  }

  function valueList(target: Target): Reading[] {
    expect('(')
    if (accept(')')) return []
    const values = [value(target, 'isOneOf')]
    while (accept(',')) values.push(value(target, 'isOneOf'))
    expect(')')
    return values
  }

  function value({ shape, token: { text: name } }: Target, operator: Operator): Reading {
    const token = take()
    const { text } = token
    if (token.kind === 'end' || token.kind === 'sign') fail('Expected a value', token)
    const { kind, fields, choices } = shape
    if (kind === 'map') return fail(`${name} is a map: name one of its keys`, token)
    if (kind === 'group')
      return fail(`${name} is a group: name one of its fields`, token, Object.keys(fields ?? {}).join(', '))
    if (operator === 'matches' && !isPattern(text)) return fail('Not a regular expression', token)
    const read = readScalar(scalarOf(text, kind, token.kind === 'quoted'), shape, operator)
    if (read) return read
    return choices
      ? fail(`${name} is never "${text}"`, token, suggestChoice(text, choices))
      : fail(`Expected ${expectedOf(shape)}, found ${text}`, token)
  }

  function suggestChoice(text: string, choices: readonly string[]): string {
    const suggestion = suggest?.(text, choices)
    return suggestion ? `Did you mean "${suggestion}"?` : `It is one of ${choices.join(', ')}`
  }

  return { whole }
}
