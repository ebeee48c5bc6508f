import type { ConditionTree, Operator, Scalar } from './condition.ts'
import { type Shape, type Shapes, stepInto } from './shape.ts'
import { readTokens, type Token } from './text-form-lexer.ts'
import { describeUnknown, type Suggest, TextFormError, type TextFormProblem } from './text-form-problem.ts'

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
 * test      = PATH sign value | PATH [ "not" ] "in" "(" [ value { "," value } ] ")"
 *           | PATH "between" value "and" value | PATH ( "includes" | "startsWith" | "hasWords" ) value
 *           | PATH ( "present" | "absent" ) | PATH
 * sign      = "=" | "!=" | "<" | "<=" | ">" | ">="
 * PATH      = NAME { "." NAME } | "@"
 * ```
 *
 * A path of names with dots leads through groups, references and lists; through a list it asks for at
 * least one item. `@` is the item itself of a list of single values: `tags every (@ != mill)`. A path alone must be a
 * flag and asks for true. Values with spaces or signs in them are quoted.
 */
export function readCondition(source: string, collection: string, shapes: Shapes, suggest?: Suggest): ReadCondition {
  try {
    const tokens = readTokens(source)
    return { condition: createParser(tokens, shapes, suggest).whole(shapes.get(collection) as Shape) }
  } catch (error) {
    if (error instanceof TextFormError) return { problem: error.problem }
    throw error
  }
}

const SIGNS: Readonly<Record<string, Operator>> = {
  '=': 'is',
  '!=': 'isNot',
  '>=': 'atLeast',
  '<=': 'atMost',
  '>': 'above',
  '<': 'below',
}

const ORDERED: readonly Shape['kind'][] = ['text', 'number', 'date', 'time', 'instant']

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

function createParser(tokens: readonly Token[], shapes: Shapes, suggest: Suggest | undefined) {
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
    const token = take()
    if (token.kind !== 'word') fail(`Expected the name of a field${token.text ? `, found ${token.text}` : ''}`, token)
    const quantifier = (['some', 'every', 'none'] as const).find(isWord)
    const target = follow(token, shape)
    if (quantifier) return quantified(quantifier, target)
    const sign = peek().kind === 'sign' ? SIGNS[peek().text] : undefined
    if (sign) return signed(sign, target)
    if (accept('present')) return finish(target, 'isPresent', [])
    if (accept('absent')) return finish(target, 'isAbsent', [])
    return testByWord(target)
  }

  function testByWord(target: Target): ConditionTree {
    const single = enterList(target)
    if (accept('in')) return finish(single, 'isOneOf', valueList(single))
    if (isWord('not') && tokens[position + 1]?.text === 'in') {
      position += 2
      const values = valueList(single)
      return target.isWithin || single !== target
        ? { kind: 'not', part: finish(single, 'isOneOf', values) }
        : finish(single, 'isNoneOf', values)
    }
    if (accept('between')) return between(single)
    if (accept('startsWith')) return finish(single, 'startsWith', [value(single)])
    if (accept('hasWords')) return finish(single, 'hasWords', [value(single)])
    if (accept('includes')) return finish(single, target.shape.kind === 'list' ? 'is' : 'includes', [value(single)])
    if (single.shape.kind !== 'flag') fail(`Expected an operator after ${target.token.text}, such as =`)
    return finish(single, 'is', [true])
  }

  function quantified(kind: 'some' | 'every' | 'none', { shape, path, wrap, token }: Target): ConditionTree {
    if (shape.kind !== 'list') fail(`${token.text} is no list`, token)
    take()
    expect('(')
    const part = condition(shape.item as Shape)
    expect(')')
    return wrap({ kind, path, part })
  }

  function signed(operator: Operator, found: Target): ConditionTree {
    const sign = take()
    const target = enterList(found)
    const ranged = operator !== 'is' && operator !== 'isNot'
    if (ranged && (!ORDERED.includes(target.shape.kind) || target.shape.choices))
      fail(`${sign.text} needs a number, a date or a text; ${found.token.text} is none`, sign)
    // Through a list the whole is negated: no item is the value.
    if (operator === 'isNot' && (found.isWithin || target !== found))
      return { kind: 'not', part: finish(target, 'is', [value(target)]) }
    return finish(target, operator, [value(target)])
  }

  function between(target: Target): ConditionTree {
    const low = value(target)
    expect('and')
    return finish(target, 'between', [low, value(target)])
  }

  const finish = ({ path, wrap }: Target, operator: Operator, values: readonly Scalar[]): ConditionTree =>
    wrap({ kind: 'test', path, operator, values })

  function follow(token: Token, start: Shape): Target {
    let target: Target = { shape: start, path: [], wrap: (tree) => tree, isWithin: false, token }
    if (token.text === '@') return target
    const names = token.text.split('.')
    for (const name of names) {
      target = enterList(target)
      const { shape, path } = target
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

  /** A test on a list asks for at least one item. */
  function enterList(target: Target): Target {
    if (target.shape.kind !== 'list') return target
    const { shape, path, wrap, token } = target
    const within: Wrap = (part) => wrap({ kind: 'some', path, part })
    return { shape: shape.item as Shape, path: [], token, isWithin: true, wrap: within }
  }

  function valueList(target: Target): Scalar[] {
    expect('(')
    if (accept(')')) return []
    const values = [value(target)]
    while (accept(',')) values.push(value(target))
    expect(')')
    return values
  }

  function value({ shape, token: { text: name } }: Target): Scalar {
    const token = take()
    if (token.kind === 'end' || token.kind === 'sign') fail('Expected a value', token)
    const read = readValue(token.text, name, shape)
    return typeof read === 'object' ? fail(read.message, token, read.help ?? suggestChoice(token.text, shape)) : read
  }

  function suggestChoice(text: string, { choices }: Shape): string | undefined {
    if (!choices) return undefined
    const suggestion = suggest?.(text, choices)
    return suggestion ? `Did you mean "${suggestion}"?` : `It is one of ${choices.join(', ')}`
  }

  return { whole }
}

/** A value as the field's type has it, or what is wrong with its text. */
function readValue(
  text: string,
  name: string,
  { kind, fields, choices }: Shape,
): Scalar | { message: string; help?: string } {
  switch (kind) {
    case 'group':
      return { message: `${name} is a group: name one of its fields`, help: Object.keys(fields ?? {}).join(', ') }
    case 'anything':
      return { message: `${name} has no single value`, help: 'Ask for present or absent' }
    case 'time':
      return /^\d\d:\d\d(?::\d\d)?$/.test(text) ? text : { message: `Expected a time as HH:MM, found ${text}` }
    case 'flag':
      return text === 'true' || text === 'false'
        ? text === 'true'
        : { message: `Expected true or false, found ${text}` }
    case 'number':
      return text.trim() !== '' && Number.isFinite(Number(text))
        ? Number(text)
        : { message: `Expected a number, found ${text}` }
    case 'date':
      return /^\d{4}-\d{2}-\d{2}$/.test(text) ? text : { message: `Expected a date as YYYY-MM-DD, found ${text}` }
    default:
      return choices && !choices.includes(text) ? { message: `${name} is never "${text}"` } : text
  }
}
