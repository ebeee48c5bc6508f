import type { Shape } from './shape.ts'

/** The shape that values of several shapes have in common; of those with nothing in common anything. */
export function commonShape(shapes: readonly Shape[]): Shape {
  const [first, ...others] = shapes
  if (!first) return ANYTHING
  return others.reduce(commonOfTwo, first)
}

const ANYTHING: Shape = { kind: 'anything' }

function commonOfTwo(one: Shape, other: Shape): Shape {
  if (JSON.stringify(one) === JSON.stringify(other)) return one
  if (one.kind === 'group' && other.kind === 'group') {
    const names = Object.keys(one.fields).filter((name) => Object.hasOwn(other.fields, name))
    return {
      kind: 'group',
      fields: Object.fromEntries(
        names.map((name) => [name, commonOfTwo(one.fields[name] as Shape, other.fields[name] as Shape)]),
      ),
    }
  }
  if (one.kind === 'list' && other.kind === 'list') return { kind: 'list', item: commonOfTwo(one.item, other.item) }
  if (isText(one) && isText(other)) {
    const choices = one.choices && other.choices && [...new Set([...one.choices, ...other.choices])]
    return { kind: one.kind === 'text' && other.kind === 'text' ? 'text' : 'plain', ...(choices ? { choices } : {}) }
  }
  return ANYTHING
}

const isText = ({ kind }: Shape): boolean => kind === 'text' || kind === 'plain'
