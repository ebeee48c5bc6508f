import { suggestNearest } from '../diagnostics/suggest.ts'
import { buildCollection } from './build-collection.ts'
import { type CollectionModel, type Model, visitFields } from './model.ts'
import type { Pantry } from './pantry.ts'
import { createSettingsReader, type SettingProblem, type SettingsReader } from './settings-reader.ts'

/**
 * Checks every setting of a configuration and fills in what is left out. The types of `pantry()`
 * forbid most mistakes, but a configuration may be plain JavaScript.
 */
export function buildModel(configuration: Pantry): { model: Model; problems: readonly SettingProblem[] } {
  const reader = createSettingsReader()
  const settings: unknown = configuration.settings
  if (typeof settings !== 'object' || settings === null) {
    reader.invalid(['pantry'], settings, 'an object of settings')
    return { model: { content: 'content', output: 'generated/pantry', collections: [] }, problems: reader.problems }
  }
  reader.known([], settings, ['content', 'output', 'collections'])
  const { content, output, collections } = settings as Record<string, unknown>
  const model: Model = {
    content: folder(reader, 'content', content, 'content'),
    output: folder(reader, 'output', output, 'generated/pantry'),
    collections: buildCollections(reader, collections),
  }
  checkTypeNames(reader, model)
  checkReferences(reader, model)
  if (overlaps(model.content, model.output))
    reader.invalid(['output'], model.output, `a folder apart from the content folder "${model.content}"`)
  return { model, problems: reader.problems }
}

const overlaps = (content: string, output: string): boolean =>
  `${output}/`.startsWith(`${content}/`) || `${content}/`.startsWith(`${output}/`)

/** A folder below the configuration's own: relative, with forward slashes, never outside. */
function folder(reader: SettingsReader, name: string, value: unknown, otherwise: string): string {
  const text = reader.text([name], value)
  if (text === undefined) return otherwise
  const steps = text
    .replaceAll('\\', '/')
    .split('/')
    .filter((step) => step !== '' && step !== '.')
  if (/^(?:\/|[A-Za-z]:)/.test(text) || steps.includes('..') || steps.length === 0) {
    reader.invalid([name], text, 'a folder below that of the configuration')
    return otherwise
  }
  return steps.join('/')
}

function buildCollections(reader: SettingsReader, collections: unknown): CollectionModel[] {
  if (typeof collections !== 'object' || collections === null || Array.isArray(collections)) {
    reader.invalid(['collections'], collections, 'an object with a collection under each name')
    return []
  }
  return Object.entries(collections).flatMap(([name, settings]) => buildCollection(reader, name, settings) ?? [])
}

function checkTypeNames(reader: SettingsReader, model: Model): void {
  const taken = new Map<string, string>()
  for (const { name, typeName } of model.collections) {
    const names = [typeName, `${typeName}Id`, `${typeName}Fields`]
    const made = names.find((candidate) => taken.has(candidate))
    if (made === undefined) for (const candidate of names) taken.set(candidate, `collections.${name}`)
    else {
      const other = taken.get(made) ?? ''
      reader.report('config-name-taken', ['collections', name, 'entry'], { name: made, other })
    }
  }
}

function checkReferences(reader: SettingsReader, model: Model): void {
  const known = model.collections.map((collection) => collection.name)
  for (const { name, fields } of model.collections) {
    visitFields(fields, (field, path) => {
      const { target } = field
      if (field.kind !== 'ref' || target === undefined || known.includes(target)) return
      const suggestion = suggestNearest(target, known)
      reader.report('config-ref-unknown', ['collections', name, 'fields', ...path], { target, suggestion, known })
    })
  }
}
