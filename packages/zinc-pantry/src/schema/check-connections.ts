import { suggestNearest } from '../diagnostics/suggest.ts'
import type { AnyField } from './any-field.ts'
import { fieldAt } from './field-path.ts'
import type { ReverseField } from './fields/reverse.ts'
import { mergedFields } from './fields/variant.ts'
import type { BlockFields } from './kind.ts'
import { childrenOf, kindOf, leadingOf } from './kinds.ts'
import { allFields, type CollectionModel, type Model, visitFields } from './model.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** Checks what settings say of other settings: references, blocks, reverse references, shared slugs. */
export function checkConnections(reader: SettingsReader, model: Model): void {
  const collections = new Map(model.collections.map((collection) => [collection.name, collection]))
  const names = [...collections.keys()]
  const blocks = [...model.blocks.keys()]
  const unknown = (path: SettingStep[], target: string): void =>
    reader.report('config-ref-unknown', path, { target, suggestion: suggestNearest(target, names), known: names })
  const visit = (field: AnyField, path: SettingStep[]): void => {
    for (const target of leadingOf(field)?.targets ?? []) if (!collections.has(target)) unknown(path, target)
    for (const name of childrenOf(field).blocks?.names ?? [])
      if (!model.blocks.has(name))
        reader.report('config-block-unknown', path, { name, suggestion: suggestNearest(name, blocks), known: blocks })
    checkBy(reader, path, field, collections)
    if (field.kind !== 'reverse') return
    if (path.length > 4) reader.invalid(path, 'inside of another field', 'a field of the entry itself')
    checkReverse(reader, path, field, collections.get(field.targets[0]), {
      owner: ownerOf(path),
      blocks: model.blocks,
    })
  }
  for (const { name, fields, derived } of model.collections) {
    visitFields(fields, (field, path) => visit(field, ['collections', name, 'fields', ...path]))
    for (const [key, { field }] of Object.entries(derived))
      visitFields({ [key]: field }, (inner, path) => visit(inner, ['collections', name, 'derive', ...path]))
  }
  for (const [name, fields] of model.blocks)
    visitFields(fields, (field, path) => visit(field, ['blocks', name, 'fields', ...path]))
  for (const [position, group] of model.sharedSlugs.entries())
    for (const name of group) if (!collections.has(name)) unknown(['sharedSlugs', position], name)
}

const ownerOf = (path: readonly SettingStep[]): string => (path[0] === 'collections' ? String(path[1]) : '')

/** A reference by a field needs that field in every target. */
function checkBy(
  reader: SettingsReader,
  path: SettingStep[],
  field: AnyField,
  collections: ReadonlyMap<string, CollectionModel>,
): void {
  const { targets, by } = leadingOf(field) ?? { targets: [] }
  if (by === undefined || by === 'id' || by === 'slug') return
  for (const target of targets ?? []) {
    const collection = collections.get(target)
    if (!collection) continue
    const fields = mergedFields(allFields(collection))
    const isKey = (name: string): boolean => kindOf(fields[name] as AnyField).isKey === true
    if (Object.hasOwn(fields, by) && isKey(by)) continue
    const known = Object.keys(fields).filter(isKey)
    const expected = `a text of ${target}, "id" or "slug"`
    reader.report('config-field-unfit', [...path, 'by'], {
      name: by,
      expected,
      suggestion: suggestNearest(by, known),
      known,
    })
  }
}

function checkReverse(
  reader: SettingsReader,
  path: SettingStep[],
  { through, options }: ReverseField,
  target: CollectionModel | undefined,
  { owner, blocks }: { owner: string; blocks: BlockFields },
): void {
  if (!target) return
  const steps = through.split('.')
  const found = fieldAt(target.fields, steps, blocks)
  if (found?.kind === 'ref' && found.targets.includes(owner)) {
    // The other end would tell what the reference hides.
    const isHidden = steps.some((_, at) => fieldAt(target.fields, steps.slice(0, at + 1), blocks)?.options.private)
    if (isHidden && !options.private)
      reader.invalid([...path, 'private'], options.private, 'true, as the reference is private')
    return
  }
  const known: string[] = []
  visitFields(target.fields, (field, at) => {
    if (field.kind === 'ref' && field.targets.includes(owner))
      known.push(at.filter((step) => step !== 'item').join('.'))
  })
  reader.report('config-reverse-unknown', path, { through, target: target.name, owner, suggestion: known[0] })
}
