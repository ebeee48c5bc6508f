import type { Scalar } from './condition.ts'
import type { NormalForm } from './negation-normal-form.ts'
import { readPath } from './read-path.ts'
import { compileTest } from './test-value.ts'

/** Decides whether a condition holds for a value. */
export type Predicate = (value: unknown) => boolean

/** Turns a condition that follows no references into a function once, to be run on many values. */
export function compileCondition(tree: NormalForm): Predicate {
  switch (tree.kind) {
    case 'and': {
      const parts = tree.parts.map(compileCondition)
      return (value) => parts.every((part) => part(value))
    }
    case 'or': {
      const parts = tree.parts.map(compileCondition)
      return (value) => parts.some((part) => part(value))
    }
    case 'not': {
      const part = compileCondition(tree.part)
      return (value) => !part(value)
    }
    case 'some': {
      const part = compileCondition(tree.part)
      return (value) => {
        const list = readPath(value, tree.path)
        return Array.isArray(list) && list.some(part)
      }
    }
    case 'compare':
      return tree.holds
    default: {
      const test = compileTest(tree)
      const { read = (value: unknown) => readPath(value, tree.path) } = tree
      return (value) => {
        const found = read(value)
        return found !== null && test(found as Scalar)
      }
    }
  }
}
