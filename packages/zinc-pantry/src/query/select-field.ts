import type { StoredValue, World } from './evaluate.ts'
import type { Shape } from './shape.ts'
import { stepInto } from './shape.ts'

/**
 * Makes a reader of the value at a path: through groups, into the entries that references lead to, and
 * of every item of a list, which gives a list. Null where the way ends early.
 */
export function compileSelection(path: readonly string[], shape: Shape, world: World): (value: unknown) => unknown {
  if (shape.kind === 'list' && path.length > 0) {
    const item = compileSelection(path, shape.item as Shape, world)
    return (value) => (Array.isArray(value) ? value.map(item) : null)
  }
  const [name, ...rest] = path
  if (name === undefined) return (value) => value ?? null
  const { kind, target = '' } = shape
  const next = compileSelection(rest, stepInto(shape, name, world.shapes) ?? { kind: 'text' }, world)
  return (value) => {
    const holder = kind === 'ref' && typeof value === 'string' ? world.find(target, value) : value
    return typeof holder === 'object' && holder !== null ? next((holder as StoredValue)[name]) : null
  }
}
