import { isGroup } from '../diagnostics/own-key.ts'
import type { PathSegment } from '../read/document.ts'
import type { AnyField } from '../schema/any-field.ts'
import { alternativesOf } from '../schema/fields/variant.ts'
import { childrenOf } from '../schema/kinds.ts'
import type { Model } from '../schema/model.ts'
import { isRest, writtenKey } from '../schema/written-key.ts'
import {
  blockLevel,
  blockSymbol,
  type FieldLevel,
  fieldSymbol,
  type ModelSymbol,
  type NamedField,
} from './model-names.ts'

/** A value as it is written, before its schema has seen it. */
export interface WrittenField {
  readonly symbol: ModelSymbol
  readonly field: AnyField
  readonly value: unknown
  /** In its document. */
  readonly path: readonly PathSegment[]
  /** False for the item of a list or a map, which has the symbol of the whole. */
  readonly hasKey: boolean
}

/** The key of a block in a list, and which block it says. */
export interface WrittenBlock {
  readonly symbol: ModelSymbol
  readonly path: readonly PathSegment[]
}

/** A group as it is written, and the fields that it may have. */
export interface WrittenGroup {
  readonly level: FieldLevel
  readonly path: readonly PathSegment[]
  readonly group: Readonly<Record<string, unknown>>
  /** The key that says which block it is, and which ones there may be. */
  readonly blocks?: { readonly names: readonly string[]; readonly key: string } | undefined
}

/** What is written in a record. */
export interface WrittenParts {
  readonly fields: readonly WrittenField[]
  readonly blocks: readonly WrittenBlock[]
  readonly groups: readonly WrittenGroup[]
}

/** Takes a record apart by the fields that it may have, at any depth; it need not be right. */
export function takeApart(
  model: Model,
  level: FieldLevel,
  { value, path }: { readonly value: unknown; readonly path: readonly PathSegment[] },
): WrittenParts {
  const fields = new Map<string, WrittenField>()
  const blocks: WrittenBlock[] = []
  const groups: WrittenGroup[] = []
  const add = (one: WrittenField): void => {
    const key = JSON.stringify([one.symbol, one.path, one.hasKey])
    if (!fields.has(key)) fields.set(key, one)
  }

  const visitGroup = (
    level: FieldLevel,
    group: unknown,
    { at, allowed }: { readonly at: readonly PathSegment[]; readonly allowed?: WrittenGroup['blocks'] },
  ): void => {
    if (!isGroup(group)) return
    const { owner, names, fields: declared } = level
    groups.push({ level, path: at, group, blocks: allowed })
    for (const { fields: own } of alternativesOf(declared).alternatives)
      for (const [name, field] of Object.entries(own)) {
        const key = writtenKey(name, field)
        if (isRest(field) || !Object.hasOwn(group, key)) continue
        const named = { owner, names: [...names, name], field: declared[name] ?? field }
        visitValue(named, group[key], { at: [...at, key], hasKey: true })
      }
  }

  const visitValue = (named: NamedField, inner: unknown, { at, hasKey }: Written): void => {
    const { owner, names, field } = named
    add({ symbol: fieldSymbol(owner, names), field, value: inner, path: at, hasKey })
    const { item, fields: own, blocks: allowed, alternatives = [] } = childrenOf(field)
    for (const one of alternatives) visitValue({ ...named, field: one }, inner, { at, hasKey: false })
    if (item && (Array.isArray(inner) || (field.kind === 'map' && isGroup(inner))))
      for (const [key, one] of Object.entries(inner))
        visitValue({ ...named, field: item }, one, {
          at: [...at, Array.isArray(inner) ? Number(key) : key],
          hasKey: false,
        })
    else if (item && field.kind === 'list') visitValue({ ...named, field: item }, inner, { at, hasKey: false })
    if (own) visitGroup({ owner, names, fields: own }, inner, { at })
    if (!allowed || !isGroup(inner)) return
    const block = String(inner[allowed.key])
    const below = allowed.names.includes(block) ? blockLevel(model, block) : undefined
    if (!below) {
      visitGroup({ owner, names, fields: {} }, inner, { at, allowed })
      return
    }
    blocks.push({ symbol: blockSymbol(block), path: [...at, allowed.key] })
    visitGroup(below, inner, { at, allowed })
  }

  visitGroup(level, value, { at: path })
  return { fields: [...fields.values()], blocks, groups }
}

interface Written {
  readonly at: readonly PathSegment[]
  readonly hasKey: boolean
}
