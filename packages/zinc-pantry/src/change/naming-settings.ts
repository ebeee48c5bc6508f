import type { AnyField } from '../schema/any-field.ts'
import type { Fields } from '../schema/field.ts'
import { childrenOf, leadingOf } from '../schema/kinds.ts'
import type { CollectionModel, Model } from '../schema/model.ts'
import { idKeysOf, slugKeyOf } from '../schema/naming-rule.ts'
import type { SyntaxPath } from './configuration-text.ts'
import {
  blockSymbol,
  choiceSymbol,
  choicesOf,
  collectionLevel,
  collectionSymbol,
  type FieldLevel,
  fieldNamed,
  fieldSymbol,
  followNames,
  type ModelSymbol,
  type Owner,
} from './model-names.ts'

/** A name inside of a text, and what it names. */
export interface NameInText {
  readonly symbol: ModelSymbol
  readonly start: number
  readonly end: number
}

/** A setting that names something: by its own key, by the keys of its object, or by its text or texts. */
export interface NamingSetting {
  readonly path: SyntaxPath
  readonly part: 'key' | 'keys' | 'texts'
  readonly isDeclaration: boolean
  /** The names in one text. */
  namesIn(text: string): readonly NameInText[]
  /** All that the setting names, as the model has it. */
  readonly expected: readonly ModelSymbol[]
}

/** Every setting of a site that names a collection, a field, a value of a choice or a block. */
export function listNamingSettings(model: Model): readonly NamingSetting[] {
  const settings: NamingSetting[] = []
  const add = (setting: NamingSetting): void => void settings.push(setting)
  for (const collection of model.collections) {
    const path = ['collections', collection.name]
    const owner = collectionSymbol(collection.name)
    add(declaration(path, owner))
    declareFields(model, { owner, names: [], fields: collection.fields }, [...path, 'fields'], add)
    for (const [name, { field }] of Object.entries(collection.derived)) {
      // What a template makes is declared nowhere.
      if (name === collection.address && collection.addressVariables.length > 0) continue
      add(declaration([...path, 'derive', name], fieldSymbol(owner, [name])))
      nameInField(model, { owner, names: [name], field }, [...path, 'derive', name, 'field'], add)
    }
    nameFields(model, collection, path, add)
  }
  for (const [name, fields] of model.blocks) {
    const owner = blockSymbol(name)
    add(declaration(['blocks', name], owner))
    declareFields(model, { owner, names: [], fields }, ['blocks', name, 'fields'], add)
  }
  for (const [position, names] of model.sharedSlugs.entries())
    add(texts(['sharedSlugs', position], names.map(collectionSymbol), wholeText(collectionSymbol)))
  return settings
}

type Add = (setting: NamingSetting) => void

const declaration = (path: SyntaxPath, symbol: ModelSymbol): NamingSetting => ({
  path,
  part: 'key',
  isDeclaration: true,
  namesIn: wholeText(() => symbol),
  expected: [symbol],
})

type NamesIn = NamingSetting['namesIn']

const texts = (path: SyntaxPath, expected: readonly ModelSymbol[], namesIn: NamesIn): NamingSetting => ({
  path,
  part: 'texts',
  isDeclaration: false,
  namesIn,
  expected,
})

/** Texts that are a name and nothing else. */
const wholeText =
  (symbolOf: (text: string) => ModelSymbol | undefined): NamesIn =>
  (text) => {
    const symbol = symbolOf(text)
    return symbol === undefined ? [] : [{ symbol, start: 0, end: text.length }]
  }

/** Texts that are dotted paths of fields. */
const pathText =
  (model: Model, level: FieldLevel | undefined): NamesIn =>
  (text) =>
    followNames(model, level, text).flatMap(({ fields, start, end }) =>
      fields.map((one) => ({ symbol: fieldSymbol(one.owner, one.names), start, end })),
    )

const namesOf = (namesIn: NamesIn, text: string): readonly ModelSymbol[] => namesIn(text).map(({ symbol }) => symbol)

/** Fields where they are declared, and all that their declarations name. */
function declareFields(model: Model, { owner, names, fields }: FieldLevel, path: SyntaxPath, add: Add): void {
  for (const [name, field] of Object.entries(fields as Fields)) {
    const own = [...names, name]
    add(declaration([...path, name], fieldSymbol(owner, own)))
    nameInField(model, { owner, names: own, field }, [...path, name], add)
  }
}

interface Declared extends Pick<FieldLevel, 'names'> {
  readonly owner: Owner
  readonly field: AnyField
}

/** What the declaration of a field names; arguments of its constructor are steps of paths. */
function nameInField(model: Model, { owner, names, field }: Declared, path: SyntaxPath, add: Add): void {
  const { item, keys, fields, variants = {}, alternatives = [], blocks } = childrenOf(field)
  const inside = (inner: AnyField, ...steps: SyntaxPath): void =>
    nameInField(model, { owner, names, field: inner }, [...path, ...steps], add)
  if (item?.options) inside(item, 0)
  if (keys?.options) inside(keys, 1, 'propertyNames')
  for (const [position, one] of alternatives.entries()) inside(one, 0, position)
  if (fields) declareFields(model, { owner, names, fields }, [...path, 0], add)
  for (const [name, own] of Object.entries(variants))
    declareFields(model, { owner, names: names.slice(0, -1), fields: own }, [...path, 0, name], add)
  if (blocks)
    for (const position of [...blocks.names, ''].keys())
      add(
        texts(
          [...path, position],
          [],
          wholeText((text) => (blocks.names.includes(text) ? blockSymbol(text) : undefined)),
        ),
      )
  nameChoices(fieldSymbol(owner, names), field, path, add)
  nameTargets(model, field, path, add)
}

/** The words of a choice, and its default. */
function nameChoices(own: ModelSymbol, field: AnyField, path: SyntaxPath, add: Add): void {
  const known = choicesOf(field)
  const namesIn = wholeText((text) => (known.includes(text) ? choiceSymbol(own, text) : undefined))
  const { default: usual } = field.options
  if (known.length > 0 && usual !== undefined)
    add(
      texts(
        [...path, 1, 'default'],
        [usual].flat().flatMap((one) => namesOf(namesIn, String(one))),
        namesIn,
      ),
    )
  const isOwn = field.kind === 'choice' || field.kind === 'variant'
  if (!isOwn) return
  const expected = known.map((word) => choiceSymbol(own, word))
  const isList = field.kind === 'choice' && !field.labels
  add({ path: [...path, 0], part: isList ? 'texts' : 'keys', isDeclaration: true, namesIn, expected })
}

/** The collections that a field leads to, and the fields of those. */
function nameTargets(model: Model, field: AnyField, path: SyntaxPath, add: Add): void {
  if (field.kind !== 'ref' && field.kind !== 'reverse') return
  const { targets = [], by, through } = leadingOf(field) ?? {}
  add(texts([...path, 0], targets.map(collectionSymbol), wholeText(collectionSymbol)))
  const levels = targets.map((name) => collectionLevel(model, name))
  const namesIn: NamesIn = (text) => levels.flatMap((level) => pathText(model, level)(text))
  if (through !== undefined) add(texts([...path, 1], namesOf(namesIn, through), namesIn))
  if (by !== undefined && by !== 'id' && by !== 'slug') add(texts([...path, 1, 'by'], namesOf(namesIn, by), namesIn))
}

/** The settings of a collection that name its fields. */
function nameFields(model: Model, collection: CollectionModel, base: SyntaxPath, add: Add): void {
  const level = collectionLevel(model, collection.name)
  const dotted = pathText(model, level)
  const named = (values: readonly (string | undefined)[], namesIn: NamesIn, ...steps: SyntaxPath): void => {
    const expected = values.flatMap((value) => (value === undefined ? [] : namesOf(namesIn, value)))
    if (expected.length > 0) add(texts([...base, ...steps], expected, namesIn))
  }
  for (const [position, fields] of collection.unique.entries()) named(fields, dotted, 'unique', position)
  for (const key of ['draft', 'from', 'until'] as const)
    named([collection.publication?.[key]], dotted, 'publication', key)
  for (const key of ['parent', 'createFrom', 'revised', 'value', 'formerAddresses'] as const)
    named([collection[key]], dotted, key)
  const keyed = wholeText((key) => symbolOfKey(level, key))
  named(idKeysOf(collection), keyed, 'id')
  named([slugKeyOf(collection)], keyed, 'slug')
  const ordered = splitText(dotted, /[^,\s-][^,\s]*/g)
  named([collection.order.map(({ field }) => field).join()], ordered, 'order')
  const template = collection.addressVariables
  if (template.length > 0) named([`{${template.join()}}`], inTemplate(dotted), 'address')
  else named([collection.address], dotted, 'address')
  named(collection.indexes, dotted, 'indexes')
  const held = collection.indexes.length + collection.sortOrders.length
  const positions = Array.from({ length: held }, (_, position) => [position, 'field'])
  for (const steps of [['field'], ...positions]) add(texts([...base, 'indexes', ...steps], [], dotted))
  const plain = collection.clustered.filter(([key]) => key?.collation === undefined)
  named([plain.flatMap((keys) => keys.map(({ path }) => path.join('.'))).join()], ordered, 'clustered')
  for (const steps of [['order'], ...collection.clustered.map((_, position) => [position, 'order'])])
    add(texts([...base, 'clustered', ...steps], [], ordered))
  const searched = collection.search.map(({ path }) => path.join('.'))
  const expected = searched.flatMap((path) => namesOf(dotted, path))
  if (expected.length > 0)
    add({ path: [...base, 'search'], part: 'keys', isDeclaration: false, namesIn: dotted, expected })
}

/** The field that is written under a key, where that is its name. */
function symbolOfKey(level: FieldLevel | undefined, key: string): ModelSymbol | undefined {
  const field = level && fieldNamed(level.fields, key)
  return field && field.options.writtenAs === undefined ? fieldSymbol(level.owner, [key]) : undefined
}

/** Names in the parts of a text that match. */
const splitText =
  (namesIn: NamesIn, parts: RegExp): NamesIn =>
  (text) =>
    [...text.matchAll(parts)].flatMap(({ 0: part, index }) =>
      namesIn(part).map((one) => ({ ...one, start: one.start + index, end: one.end + index })),
    )

/** Names in the expressions of a template of addresses (RFC 6570). */
const inTemplate = (namesIn: NamesIn): NamesIn => splitText(splitText(namesIn, /[A-Za-z_$][\w$]*/g), /\{[^{}]*\}/g)
