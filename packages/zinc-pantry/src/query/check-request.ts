import type { ConditionTree, SortKey } from './condition.ts'
import type { Site } from './open-site.ts'
import type { QueryRequest } from './query-request.ts'
import type { Shape } from './shape.ts'

/**
 * Checks a query that was made of plain data, and reads its values as the fields read theirs. Wrong use is an error.
 */
export function checkRequest(site: Site, request: QueryRequest): QueryRequest {
  const { collection, condition, sort = [], search } = request
  const { internals, shapes } = site
  site.stored(collection)
  const entry = shapes.get(collection) as Shape
  if (search !== undefined && typeof search !== 'string')
    throw new internals.QueryError(`search takes a text, not ${internals.describe(search)}`)
  for (const key of list<SortKey>(sort, 'sort')) {
    const path = list<string>(key?.path, 'path')
    internals.checkSortKey(key, path[0] === internals.byScore.path[0] ? undefined : follow(path, entry))
  }
  return condition ? { ...request, condition: check(condition, entry) } : request

  function list<Item>(value: unknown, name: string): readonly Item[] {
    if (Array.isArray(value)) return value
    throw new internals.QueryError(`${name} is a list, not ${internals.describe(value)}`)
  }

  function follow(path: readonly string[], from: Shape): Shape {
    let at = from
    for (const name of path) {
      const below = internals.stepInto(at, name, shapes)
      if (!below)
        throw internals.describeUnknown(`field ${path.join('.')}`, Object.keys(internals.fieldsOf(at, shapes) ?? {}))
      at = below
    }
    return at
  }

  function check(tree: ConditionTree, from: Shape): ConditionTree {
    switch (tree?.kind) {
      case 'and':
      case 'or':
        return { kind: tree.kind, parts: list<ConditionTree>(tree.parts, 'parts').map((part) => check(part, from)) }
      case 'not':
        return { kind: 'not', part: check(tree.part, from) }
      case 'some':
      case 'every':
      case 'none': {
        const { kind, path } = tree
        const { item } = follow(list(path, 'path'), from)
        if (!item) throw new internals.QueryError(`${path.join('.') || 'The item'} is no list`)
        return { kind, path, part: check(tree.part, item) }
      }
      case 'compare': {
        const { path, operator, other } = tree
        const [one, second] = [follow(list(path, 'path'), from), follow(list(other, 'other'), from)]
        const wrong = internals.operatorsOf(one.kind, one.choices !== undefined).includes(operator)
          ? internals.whyIncomparable(one, second, operator)
          : `does not fit ${operator}`
        if (wrong !== undefined) throw new internals.QueryError(`${path.join('.')}: ${other.join('.')} ${wrong}`)
        return tree
      }
      case 'test': {
        const { path, operator, values } = tree
        const shape = follow(list(path, 'path'), from)
        const known = internals.operatorsOf(shape.kind, shape.choices !== undefined)
        if (!known.includes(operator))
          throw internals.describeUnknown(`operator ${operator} on ${path.join('.')}`, known)
        return internals.createTest({ path, shape }, operator, list(values, 'values'))
      }
      default:
        throw new internals.QueryError('A condition has a kind: test, compare, and, or, not, some, every or none')
    }
  }
}
