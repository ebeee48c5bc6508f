import type { AnyField } from './any-field.ts'
import type { Fields } from './field.ts'
import { type Model, visitFields } from './model.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** A set of fields and its place in the configuration. */
interface PlacedSet {
  readonly path: readonly SettingStep[]
  readonly fields: Fields
}

/**
 * Warns where a set of fields that is spread into another one has a field of another kind in the place of a shared one:
 * what reads the shared field there counts on a promise that the spread does not keep. A set tells by its fields, which are the
 * very objects that another set has, in the same order.
 */
export function checkOverrides(reader: SettingsReader, model: Model): void {
  const sets = listSets(model)
  const users = new Map<AnyField, PlacedSet[]>()
  for (const set of sets)
    for (const field of Object.values(set.fields)) users.set(field, [...(users.get(field) ?? []), set])
  const told = new Set<string>()
  for (const set of sets) {
    const others = new Set(Object.values(set.fields).flatMap((field) => users.get(field) ?? []))
    for (const other of others)
      for (const name of overriddenIn(set, other)) {
        const [own, shared] = [set.fields[name] as AnyField, other.fields[name] as AnyField]
        const isFewer = (users.get(own)?.length ?? 0) < (users.get(shared)?.length ?? 0)
        const isLater = users.get(own)?.length === users.get(shared)?.length && sets.indexOf(set) > sets.indexOf(other)
        const path = [...set.path, name]
        if ((!isFewer && !isLater) || told.has(path.join('.'))) continue
        told.add(path.join('.'))
        reader.report('config-field-loosened', path, { name: 'kind', now: `${own.kind}()`, before: `${shared.kind}()` })
      }
  }
}

/** The fields of one set that stand, with another kind, where another set has a field between those that both share. */
function overriddenIn({ fields }: PlacedSet, { fields: others }: PlacedSet): string[] {
  if (fields === others) return []
  const names = Object.keys(fields)
  const known = Object.keys(others)
  const isShared = (name: string): boolean => fields[name] !== undefined && fields[name] === others[name]
  return names.filter((name, at) => {
    const [own, other] = [fields[name], others[name]]
    if (!own || !other || own === other || own.kind === other.kind || own.base || other.base) return false
    const place = known.indexOf(name)
    return (
      (isShared(names[at + 1] ?? '') && names[at + 1] === known[place + 1]) ||
      (isShared(names[at - 1] ?? '') && names[at - 1] === known[place - 1])
    )
  })
}

function listSets({ collections, blocks }: Model): PlacedSet[] {
  const sets: PlacedSet[] = []
  const add = (path: readonly SettingStep[], fields: Fields): void => {
    sets.push({ path, fields })
    visitFields(fields, (field, at) => {
      if (field.kind === 'group') sets.push({ path: [...path, ...at], fields: field.fields })
    })
  }
  for (const { name, fields } of collections) add(['collections', name, 'fields'], fields)
  for (const [name, fields] of blocks) add(['blocks', name, 'fields'], fields)
  return sets
}
