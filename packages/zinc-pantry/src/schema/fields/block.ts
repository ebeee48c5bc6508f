import { isGroup, setOwn } from '../../diagnostics/own-key.ts'
import { suggestNearest } from '../../diagnostics/suggest.ts'
import { describeValue, listNames } from '../../diagnostics/words.ts'
import { type Check, type CheckRun, INVALID, OFF, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldOptions, Nullable } from '../field.ts'
import type { BlockFields, Compiler, Kind, TypeContext } from '../kind.ts'
import type { Shape } from '../shape.ts'
import { compileFields, propertyName } from './group.ts'
import { visibleFields } from './variant.ts'

declare const BLOCK: unique symbol

/** Stands for the value of a block until the blocks of the configuration are known. */
export interface BlockValue<Name extends string, Key extends string> {
  readonly [BLOCK]: { readonly name: Name; readonly key: Key }
}

/** Options of {@link block}. */
export interface BlockOptions<Key extends string = string> extends CommonOptions {
  /** The key that says which block it is. Default: `block`. */
  readonly key?: Key
}

/** A field of {@link block}. */
export interface BlockField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'block'
  /** The names of the blocks that are allowed. */
  readonly blocks: readonly string[]
  readonly options: BlockOptions & FieldOptions
}

type KeyOf<Options> = Options extends { readonly key: infer Key extends string } ? Key : 'block'

/**
 * One of several named groups of fields, declared under `blocks`, told apart by a key. Mostly the items of
 * a list. `off: true` in an item leaves it out of the entry without deleting it.
 *
 * Diagnostics: `value-type`, `block-unnamed`, `block-unknown`, and those of a group.
 *
 * @example
 * ```ts
 * import { block, list } from 'zinc-pantry'
 *
 * const panels = list(block('map', 'gallery'), { default: [] })
 * const parts = list(block({ key: 'type' }, 'map', 'gallery'), { default: [] })
 * ```
 */
export function block<const Name extends string>(...names: Name[]): BlockField<BlockValue<Name, 'block'>>
export function block<const Options extends BlockOptions, const Name extends string>(
  options: Options,
  ...names: Name[]
): BlockField<Nullable<BlockValue<Name, KeyOf<Options>>, Options>>
export function block(...args: readonly (BlockOptions | string)[]): BlockField<unknown> {
  const [first, ...rest] = args
  const options = typeof first === 'object' ? first : {}
  const names = (typeof first === 'object' ? rest : args) as readonly string[]
  return { kind: 'block', blocks: names, options }
}

/** The key that says which block it is. */
const blockKeyOf = ({ options }: BlockField): string => options.key ?? 'block'

/** The key that leaves an item out. */
export const OFF_KEY = 'off'

export const blockKind: Kind<BlockField> = {
  expected: ({ blocks }) => `a block: ${listNames(blocks)}`,
  options: { key: 'text' },
  compile(field, compiler) {
    const { blocks } = field
    const key = blockKeyOf(field)
    const checks = new Map(blocks.map((name) => [name, compileBlock(name, key, compiler)]))
    return (value, run) => {
      if (typeof value !== 'object' || value === null || Array.isArray(value))
        return wrongType(run, describeValue(value), 'a block')
      const source = value as Record<string, unknown>
      const name = Object.hasOwn(source, key) ? source[key] : undefined
      const check = checks.get(String(name))
      if (!check || typeof name !== 'string') return reportName(name, { key, blocks }, run)
      const checked = check(value, run)
      const off = Object.hasOwn(source, OFF_KEY) ? source[OFF_KEY] : undefined
      if (off === true) return OFF
      if (off === undefined || off === null || off === false) return checked
      run.path.push(OFF_KEY)
      run.report('value-type', { seen: describeValue(off), expected: 'true or false' })
      run.path.pop()
      return INVALID
    }
  },
  children: (field) => ({ blocks: { names: field.blocks, key: blockKeyOf(field) } }),
  checkDeclaration({ blocks }, reader, path) {
    if (blocks.length === 0 || blocks.some((name) => typeof name !== 'string'))
      reader.invalid(path, blocks, 'names of blocks')
  },
  shape: (field, inner, blocks) => blockShape(field, inner, blocks),
  store(field, context) {
    const key = blockKeyOf(field)
    const stores = new Map(field.blocks.map((name) => [name, context.block(name)]))
    if ([...stores.values()].every((store) => store === undefined)) return undefined
    return (value, owner) => (isGroup(value) ? (stores.get(String(value[key]))?.(value, owner) ?? value) : value)
  },
  valueType: blockValue,
  handleType: (field, context) => context.blocksHandle(blockKeyOf(field), field.blocks),
  jsonSchema: (field, context) => ({
    anyOf: field.blocks.map((name) => context.block(name, blockKeyOf(field))),
  }),
}

/** The TypeScript of a block: one type for each that is allowed, told apart by the key. */
export function blockValue(field: BlockField, context: TypeContext): string {
  const key = blockKeyOf(field)
  const types = field.blocks.map(
    (name) => `({ readonly ${propertyName(key)}: ${JSON.stringify(name)} } & ${context.blockType(name)})`,
  )
  return types.join(' | ')
}

function compileBlock(name: string, key: string, compiler: Compiler): (value: object, run: CheckRun) => unknown {
  const unknownKeys = compiler.blocks.open?.has(name) ? 'keep' : compiler.unknownKeys
  const rules = { unknownKeys, otherKeys: [key, OFF_KEY] } as const
  // Made at the first use, since a block may hold itself.
  let check: Check | undefined
  return (value, run) => {
    check ??= compileFields(compiler.blocks.get(name) ?? {}, rules, compiler)
    const checked = check(value, run)
    if (checked === INVALID) return INVALID
    const result: Record<string, unknown> = {}
    setOwn(result, key, name)
    return Object.assign(result, checked)
  }
}

function reportName(
  name: unknown,
  { key, blocks }: { key: string; blocks: readonly string[] },
  run: CheckRun,
): typeof INVALID {
  if (name === undefined || name === null) {
    run.report('block-unnamed', { key, blocks }, 'key')
    return INVALID
  }
  run.path.push(key)
  const seen = typeof name === 'string' ? name : String(name)
  run.report('block-unknown', { name: seen, blocks, suggestion: suggestNearest(seen, blocks) })
  run.path.pop()
  return INVALID
}

/** A query sees the fields of all blocks; those of another block have no value. */
function blockShape(field: BlockField, inner: Parameters<Kind['shape']>[1], known: BlockFields): Shape {
  const { blocks } = field
  const fields: Record<string, Shape> = { [blockKeyOf(field)]: { kind: 'plain', choices: blocks } }
  // A block that holds itself is followed once.
  const rest = new Map([...known].filter(([name]) => !blocks.includes(name)))
  for (const name of blocks)
    for (const [part, partField] of Object.entries(visibleFields(known.get(name) ?? {})))
      if (!Object.hasOwn(fields, part)) setOwn(fields, part, inner(partField, rest))
  return { kind: 'group', fields }
}
