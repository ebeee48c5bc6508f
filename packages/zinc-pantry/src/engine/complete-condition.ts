import { fieldsOf, type Shape, type Shapes, stepInto } from '../query/shape.ts'
import { readTokens, type Token } from '../query/text-form-lexer.ts'
import { quote, readPathNames, WORDS, writePathNames } from '../query/text-form-names.ts'
import { TextFormError } from '../query/text-form-problem.ts'
import { operatorsOf, WRITTEN_OPERATORS } from '../values/operators.ts'

/** What may come at a place of a condition. */
export interface ConditionCompletion {
  /** The part of the text that it takes the place of. */
  readonly start: number
  readonly end: number
  readonly options: readonly ConditionOption[]
}

/** A word that may come next. */
export interface ConditionOption {
  /** As it is written. */
  readonly text: string
  /** What people see for it. */
  readonly label?: string
  /** What it is. */
  readonly words: string
}

/** The collections of a condition, and the entries that references may lead to. */
export interface ConditionScope {
  readonly collection: string
  readonly shapes: Shapes
  /** Ids of a collection with what people call their entries. */
  entriesOf(collection: string): readonly { readonly id: string; readonly label: string }[]
}

type State =
  | { readonly expects: 'field' }
  | { readonly expects: 'joint' }
  | { readonly expects: 'operator'; readonly shape: Shape }
  | { readonly expects: 'opening'; readonly shape: Shape }
  | { readonly expects: 'value'; readonly shape: Shape; readonly isBetween?: boolean }
  | { readonly expects: 'values'; readonly shape: Shape }

const MOST = 30

/**
 * Completes a condition in its text form at an offset: names of fields, also behind references, the operators that suit what stands
 * before, and the values that are known.
 */
export function completeCondition(text: string, offset: number, scope: ConditionScope): ConditionCompletion {
  const { tokens, partial } = readBefore(text.slice(0, offset))
  const start = partial?.start ?? offset
  const typed = partial?.text ?? ''
  const { state, shape } = followTokens(tokens, scope)
  const found = optionsFor(state, { typed, shape, scope })
  const wanted = fold(typed)
  const options = found
    .map((option) => ({ option, rank: rankOf(option, wanted) }))
    .filter(({ rank }) => rank < 2)
    .sort((a, b) => a.rank - b.rank)
    .map(({ option }) => option)
    .filter((option) => option.text !== text.slice(start, offset))
  return { start, end: offset, options: options.slice(0, MOST) }
}

const fold = (text: string): string => text.replace(/^["']/, '').toLowerCase()

function rankOf({ text, label = '' }: ConditionOption, wanted: string): number {
  const texts = [fold(text), label.toLowerCase()]
  return texts.some((one) => one.startsWith(wanted)) ? 0 : texts.some((one) => one.includes(wanted)) ? 1 : 2
}

/** The tokens before an offset, and the one that is being typed there. */
function readBefore(head: string): { readonly tokens: readonly Token[]; readonly partial: Token | undefined } {
  try {
    const tokens = readTokens(head).slice(0, -1)
    const last = tokens.at(-1)
    const isTyped = last && last.end === head.length && (last.kind === 'word' || last.kind === 'quoted')
    return isTyped ? { tokens: tokens.slice(0, -1), partial: last } : { tokens, partial: undefined }
  } catch (error) {
    if (!(error instanceof TextFormError)) throw error
    // A quote that is still open.
    const { start } = error.problem
    const before = start > 0 ? readBefore(`${head.slice(0, start)} `).tokens : []
    return { tokens: before, partial: { kind: 'quoted', text: head.slice(start + 1), start, end: head.length } }
  }
}

/** Where the tokens lead: what is expected behind them, and of what the fields are. */
function followTokens(
  tokens: readonly Token[],
  { collection, shapes }: ConditionScope,
): { state: State; shape: Shape } {
  const levels: Shape[] = [shapes.get(collection) as Shape]
  let state: State = { expects: 'field' }
  for (const token of tokens) state = advance(state, token, { levels, shapes })
  return { state, shape: levels.at(-1) as Shape }
}

/** What is expected behind one more token; brackets are entered and left on the way. */
function advance(
  state: State,
  token: Token,
  { levels, shapes }: { readonly levels: Shape[]; readonly shapes: Shapes },
): State {
  const { kind, text } = token
  const level = levels.at(-1) as Shape
  switch (state.expects) {
    case 'field':
      if (text === '(' && kind === 'sign') levels.push(level)
      else if (text !== 'not' || kind !== 'word') return { expects: 'operator', shape: shapeAt(token, level, shapes) }
      return state
    case 'operator':
      return afterPath(text, state.shape)
    case 'opening':
      levels.push(state.shape)
      return { expects: 'field' }
    case 'value':
      if (text === 'and') return state
      return state.isBetween ? { expects: 'value', shape: state.shape } : { expects: 'joint' }
    case 'values':
      return text === ')' ? { expects: 'joint' } : state
    default:
      if (text !== ')') return { expects: 'field' }
      if (levels.length > 1) levels.pop()
      return state
  }
}

/** What is expected behind an operator. */
function afterPath(text: string, shape: Shape): State {
  if (/^(?:some|every|none)$/.test(text)) return { expects: 'opening', shape: itemOf(shape) }
  if (/^(?:present|absent)$/.test(text)) return { expects: 'joint' }
  if (/^(?:and|or)$/.test(text)) return { expects: 'field' }
  if (text === 'in') return { expects: 'values', shape }
  return text === 'not' ? { expects: 'operator', shape } : { expects: 'value', shape, isBetween: text === 'between' }
}

/** What a path leads to; through lists to what is in them. */
function shapeAt({ text }: Token, from: Shape, shapes: Shapes): Shape {
  if (text === '@') return from
  let at = from
  for (const name of readPathNames(text)) {
    const holder = stepInto(at, name, shapes) ? at : itemOf(at)
    const next = stepInto(holder, name, shapes)
    if (!next) return { kind: 'text' }
    at = next
  }
  return at
}

const itemOf = (shape: Shape): Shape => (shape.kind === 'list' ? itemOf(shape.item) : shape)

interface Typing {
  readonly typed: string
  readonly shape: Shape
  readonly scope: ConditionScope
}

function optionsFor(state: State, { typed, shape, scope }: Typing): readonly ConditionOption[] {
  if (state.expects === 'joint') return ['and', 'or'].map((text) => ({ text, words: 'one more condition' }))
  if (state.expects === 'opening') return [{ text: '(', words: 'a condition on an item' }]
  if (state.expects === 'field') return fieldOptions(typed, shape, scope)
  if (state.expects === 'operator') return operatorOptions(state.shape)
  return valueOptions(itemOf(state.shape), scope)
}

/** The fields that a path may name, one step further than what is typed of it. */
function fieldOptions(typed: string, shape: Shape, { shapes }: ConditionScope): readonly ConditionOption[] {
  const names = typed.includes('.') ? readPathNames(typed.slice(0, typed.lastIndexOf('.'))) : []
  let at = shape
  for (const name of names) {
    const next = stepInto(itemOf(at), name, shapes)
    if (!next) return []
    at = next
  }
  const fields = Object.entries(fieldsOf(itemOf(at), shapes) ?? {})
  const options = fields.map(([name, inner]) => ({ text: writePathNames([...names, name]), words: wordsOf(inner) }))
  const isSingle = names.length === 0 && fields.length === 0
  return isSingle ? [{ text: '@', words: 'the item itself' }] : options
}

const wordsOf = (shape: Shape): string =>
  shape.kind === 'list'
    ? `list of ${wordsOf(shape.item)}`
    : shape.kind === 'ref'
      ? `an entry of ${shape.target}`
      : shape.kind === 'plain'
        ? 'text'
        : shape.kind

function operatorOptions(shape: Shape): readonly ConditionOption[] {
  const item = itemOf(shape)
  const own = operatorsOf(item.kind, item.choices !== undefined).map((one) => WRITTEN_OPERATORS[one])
  const quantifiers = shape.kind === 'list' ? ['includes', 'some', 'every', 'none'] : []
  return [...new Set([...own, ...quantifiers])].map((text) => ({ text, words: 'operator' }))
}

function valueOptions(shape: Shape, { entriesOf }: ConditionScope): readonly ConditionOption[] {
  if (shape.kind === 'flag') return ['true', 'false'].map((text) => ({ text, words: 'flag' }))
  if (shape.kind === 'ref')
    return entriesOf(shape.target).map(({ id, label }) => ({ text: write(id), label, words: id }))
  return (shape.choices ?? []).map((text) => ({ text: write(text), words: 'value' }))
}

/** A value as it is written: in quotes where it has to be. */
const write = (value: string): string => (/^[^\s=<>!(),"']+$/.test(value) && !WORDS.test(value) ? value : quote(value))
