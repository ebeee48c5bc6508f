import { canonicalStep } from '../values/computed-steps.ts'
import { operatorsOf } from '../values/operators.ts'
import { byScore, type SortKey } from './condition.ts'
import { findWrongStep, type Shape, type Shapes, stepInto } from './shape.ts'
import { type Part, readPathNames, splitOutside } from './text-form-names.ts'
import { describeUnknown, type Suggest, TextFormError, type TextFormProblem } from './text-form-problem.ts'

/** A field that a list of names asks for: its path from the entry, through groups, lists and references. */
export interface NamedField {
  /** As written: names with dots. */
  readonly name: string
  readonly path: readonly string[]
  readonly shape: Shape
}

/** Whose fields are named. */
export interface FieldScope {
  readonly shape: Shape
  readonly shapes: Shapes
  readonly suggest?: Suggest | undefined
}

/** Reads names of fields with commas between them, such as `name,region.name`. */
export function readFieldNames(
  source: string,
  scope: FieldScope,
): { fields: NamedField[] } | { problem: TextFormProblem } {
  return collected(() => ({
    fields: splitOutside(source, ',').map(({ text, start }) => followName(text, start, scope)),
  }))
}

/** Reads sort keys with commas between them, `-` before a name for the largest first: `region,-beds`. */
export function readSortKeys(source: string, scope: FieldScope): { keys: SortKey[] } | { problem: TextFormProblem } {
  const readKey = ({ text, start }: Part): SortKey => {
    if (text === byScore.path[0]) return byScore
    const descends = text.startsWith('-')
    const { name, path, shape } = followName(descends ? text.slice(1) : text, descends ? start + 1 : start, scope)
    if (operatorsOf(shape.kind).length < 3 || throughList(path, scope))
      throw new TextFormError({ message: `${name} has no single value to sort by`, start, end: start + text.length })
    return { path, direction: descends ? 'descending' : 'ascending' }
  }
  return collected(() => ({ keys: splitOutside(source, ',').map(readKey) }))
}

const inside = (shape: Shape): Shape => (shape.kind === 'list' ? inside(shape.item) : shape)

function followName(name: string, start: number, { shape, shapes, suggest }: FieldScope): NamedField {
  const path: string[] = []
  let at = shape
  for (const written of readPathNames(name)) {
    const holder = stepInto(at, written, shapes) ? at : inside(at)
    const step = canonicalStep(holder, written)
    const next = stepInto(holder, step, shapes)
    const message = findWrongStep(holder, step)
    if (message !== undefined) throw new TextFormError({ message, start, end: start + name.length })
    path.push(step)
    if (!next)
      throw new TextFormError({ ...describeUnknown(step, holder, shapes, suggest), start, end: start + name.length })
    at = next
  }
  return { name, path, shape: at }
}

function throughList(path: readonly string[], { shape, shapes }: FieldScope): boolean {
  let at: Shape | undefined = shape
  for (const step of path) {
    const next: Shape | undefined = at && stepInto(at, step, shapes)
    if (at?.kind === 'list' && !next) return true
    at = next
  }
  return false
}

function collected<Result>(read: () => Result): Result | { problem: TextFormProblem } {
  try {
    return read()
  } catch (error) {
    if (error instanceof TextFormError) return { problem: error.problem }
    throw error
  }
}
