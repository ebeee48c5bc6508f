import { fieldsOf, type Shape, type Shapes } from './shape.ts'

/** A problem of the text form of a query, with its offsets in UTF-16 code units. */
export interface TextFormProblem {
  readonly message: string
  readonly start: number
  readonly end: number
  readonly help?: string
}

/** Ends the reading of a text form; caught at its entry. */
export class TextFormError extends Error {
  readonly problem: TextFormProblem
  constructor(problem: TextFormProblem) {
    super(problem.message)
    this.problem = problem
  }
}

/** Finds the nearest known word; given from outside, since browsers need no suggestions. */
export type Suggest = (wrong: string, known: readonly string[]) => string | undefined

/** The words for a name that is no field of a shape. */
export function describeUnknown(
  name: string,
  shape: Shape,
  shapes: Shapes,
  suggest: Suggest | undefined,
): { message: string; help: string } {
  const known = Object.keys(fieldsOf(shape, shapes) ?? {})
  const suggestion = suggest?.(name, known)
  const listed = known.length > 0 ? `There are ${known.join(', ')}` : 'It has no fields'
  return { message: `Unknown field "${name}"`, help: suggestion ? `Did you mean "${suggestion}"?` : listed }
}
