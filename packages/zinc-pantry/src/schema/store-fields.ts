import { isGroup } from '../diagnostics/own-key.ts'
import type { Fields } from './field.ts'
import { alternativesOf } from './fields/variant.ts'
import type { BlockFields, Store, StoreContext } from './kind.ts'
import { kindOf } from './kinds.ts'

/**
 * Makes the stores of a site's fields. Every kind says itself what the output has of its values; private fields are
 * told.
 */
export function createStoreContext(
  blocks: BlockFields,
  render: StoreContext['render'],
  onPrivate?: () => void,
): StoreContext {
  const byBlock = new Map<string, Store | undefined>()
  const context: StoreContext = {
    render,
    inner: (field) => kindOf(field).store(field, context),
    group: (fields) => storeFields(fields, context, onPrivate),
    block(name) {
      if (byBlock.has(name)) return byBlock.get(name)
      // A block may hold itself: what is inside of it asks for its store when there is a value.
      byBlock.set(name, (value, owner) => byBlock.get(name)?.(value, owner) ?? value)
      const store = context.group(blocks.get(name) ?? {})
      byBlock.set(name, store)
      return store
    },
  }
  return context
}

/** True where something in a set of fields is private, at any depth: found by what would be left out. */
export function hasPrivate(fields: Fields, blocks: BlockFields): boolean {
  let found = false
  createStoreContext(
    blocks,
    (text) => text,
    () => {
      found = true
    },
  ).group(fields)
  return found
}

/** The store of a set of fields: each shape without its own private fields. */
function storeFields(fields: Fields, context: StoreContext, onPrivate?: () => void): Store | undefined {
  const { key, alternatives } = alternativesOf(fields)
  const shapes = new Map(alternatives.map(({ name, fields: own }) => [name, storeShape(own, context, onPrivate)]))
  if (key === undefined) return shapes.get(undefined)
  if ([...shapes.values()].every((store) => store === undefined)) return undefined
  return (value, owner) => (isGroup(value) ? (shapes.get(String(value[key]))?.(value, owner) ?? value) : value)
}

function storeShape(fields: Fields, context: StoreContext, onPrivate?: () => void): Store | undefined {
  const hidden = new Set<string>()
  const inner = new Map<string, Store>()
  for (const [name, field] of Object.entries(fields)) {
    const store = context.inner(field)
    if (field.options.private === true) hidden.add(name)
    else if (store) inner.set(name, store)
  }
  if (hidden.size > 0) onPrivate?.()
  if (hidden.size + inner.size === 0) return undefined
  return (value, owner) => {
    if (!isGroup(value)) return value
    const kept = Object.entries(value).filter(([name]) => !hidden.has(name))
    return Object.fromEntries(kept.map(([name, part]) => [name, inner.get(name)?.(part, owner) ?? part]))
  }
}
