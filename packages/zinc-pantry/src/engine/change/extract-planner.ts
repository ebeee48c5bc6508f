import type { Attention, Change, ChangeStep, Refusal } from '../../change/change.ts'
import type { ConfigurationText, SyntaxPath, WrittenCall } from '../../change/configuration-text.ts'
import { findLabels, nameLabels, nearLabels, replaceLabels } from '../../change/extract-labels.ts'
import { type ConfigurationNames, findNames } from '../../change/find-names.ts'
import { writeCollection } from '../../change/infer/write-configuration.ts'
import { choicesOf, collectionSymbol, type FieldLevel, fieldOf, wordsOf } from '../../change/model-names.ts'
import { sharingWith } from '../../change/rename-names.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { writeDocument } from '../../change/write-record.ts'
import type { AnyField } from '../../schema/any-field.ts'
import { isIdentifier } from '../../schema/identifiers.ts'
import { childrenOf } from '../../schema/kinds.ts'
import { loadTransliterator } from '../../schema/transliterator.ts'
import { readOptionsOf } from '../check-file.ts'
import { addCollections } from '../configuration/add-collections.ts'
import { functionsWithField } from '../impact/functions.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import { refuseTarget, resolveTarget } from './resolve-target.ts'
import { refuseShared } from './symbol-planner.ts'

/** Labels that are to be records of their own. */
export interface ExtractRequest {
  readonly kind: 'extract'
  /** A field with texts or words, such as `notices.tags`. */
  readonly target: string
  /** The name of the collection that they become. */
  readonly to: string
  /** Labels that are the same as others: they become one record, by the name of the second. */
  readonly same: readonly (readonly [label: string, other: string])[]
}

/** Options that a reference takes as well, whatever the field was before. */
const KEPT = ['optional', 'description', 'deprecated', 'private', 'writtenAs', 'section', 'hints']

/** Plans a collection of labels, and references in their place. */
export async function createExtractPlanner(
  { target, to, same }: ExtractRequest,
  subject: ChangeSubject,
  {
    configuration,
    configurationFile,
    text,
  }: { readonly configuration: ConfigurationText; readonly configurationFile: string; readonly text: string },
): Promise<Planner | Refusal> {
  const { model } = subject
  const found = resolveTarget(subject, target)
  if (found?.kind !== 'field')
    return found
      ? { refused: `${target} is no field`, help: 'Name one with texts, such as notices.tags' }
      : refuseTarget(subject, target)
  const collection = model.collections.find(({ name }) => collectionSymbol(name) === found.owner)
  const field = fieldOf(model, found.owner, found.names)?.field
  const item = field && innermost(field)
  if (!collection || !item || (item.kind !== 'text' && item.kind !== 'choice'))
    return { refused: `${target} holds no texts`, help: 'Labels are texts or words, one or a list of them' }
  const names = findNames(model, configuration)
  const refusal =
    refuseName(subject, to) ??
    refuseShared(
      found.symbol,
      sharingWith(names, new Set([found.symbol])),
      'Write it out where its labels are to be records',
    )
  if (refusal) return refusal
  const call = findCall(configuration, {
    path: ['collections', collection.name, 'fields'],
    names: found.names,
    fields: collection.fields,
  })
  if (!call)
    return {
      refused: `The declaration of ${target} is not written out in the configuration`,
      help: 'Write it out there first',
    }
  const sourceOf = createSources(subject, readOptionsOf)
  const written = findLabels(subject, { collection: collection.name, symbol: found.symbol }, sourceOf)
  const labels = [...new Set([...written.flatMap((one) => one.labels), ...choicesOf(item)])].sort()
  const stray = same.flat().find((label) => !labels.includes(label))
  if (stray !== undefined) return { refused: `No entry has the label "${stray}"` }
  const joined = new Map(same)
  const ids = nameLabels(labels, joined, await loadTransliterator(true))
  const left = labels.filter((label) => !joined.has(label))
  const lines = writeCollection({
    ...{ name: to, files: [`${to}.yaml`], settings: {}, count: left.length, why: `${left.length} labels of ${target}` },
    fields: [
      { name: 'name', key: 'name', guess: { kind: 'text' }, count: left.length, total: left.length, isRequired: true },
    ],
  })
  const added = await addCollections(text, {
    lines: lines.map((line) => line.replace(/,? \/\/ \d+ of \d+$/, ',')),
    constructors: ['ref', 'text'],
  })
  if (!added) return { refused: `No place for a collection is found in ${configurationFile}` }
  const peopleSee = item.kind === 'choice' ? item.labels : undefined
  return {
    plan(): Change | Refusal {
      const file = `${model.content}/${to}.yaml`
      const value = Object.fromEntries(
        left.map((label) => [ids.get(label) ?? label, { name: peopleSee?.[label] ?? label }]),
      )
      const replaced = replaceLabels(written, ids)
      const steps: ChangeStep[] = [
        {
          kind: 'make',
          file,
          text: writeDocument({ value, comments: new Map() }, 'yaml', { lineEnd: '\n', indent: '  ' }),
          reason: `${left.length} records`,
        },
        ...added.map(
          (edit): ChangeStep => ({ kind: 'edit', file: configurationFile, ...edit, reason: `${to} is declared` }),
        ),
        {
          kind: 'edit',
          ...call.place,
          text: referenceTo(to, call, { item, ids }),
          reason: `${target} refers to ${to}`,
        },
        ...searchSteps(names, found.symbol),
        ...replaced.steps,
      ]
      const words = `${left.length} labels of ${target} become ${to}`
      return {
        words,
        steps,
        attention: [...attentionFor(call, item, { near: nearLabels(left) }), ...replaced.attention],
      }
    },
    functionsThatName: () => functionsWithField(model, collection.name, found.names.at(-1) ?? ''),
    refuse: (own, seen) =>
      findOtherValues(own, seen, {
        mayBecome: () => false,
        fieldsOf: (_, { name }) => (name === collection.name ? [found.names[0] ?? ''] : []),
      }),
  }
}

/** What a list, or a list of lists, holds. */
function innermost(field: AnyField): AnyField {
  const { item } = childrenOf(field)
  return item && field.kind === 'list' ? innermost(item) : field
}

function refuseName({ model, files }: ChangeSubject, to: string): Refusal | undefined {
  if (!isIdentifier(to))
    return { refused: `"${to}" cannot be the name of a collection`, help: 'Use letters, digits and _ only' }
  if (model.collections.some(({ name }) => name === to)) return { refused: `There is a collection ${to} already` }
  return files.includes(`${to}.yaml`) ? { refused: `There is a file ${to}.yaml already` } : undefined
}

interface Declared extends Pick<FieldLevel, 'names' | 'fields'> {
  readonly path: SyntaxPath
}

/** The call that declares a field, inside of lists. */
function findCall(
  configuration: ConfigurationText,
  { path, names: [name = '', ...rest], fields }: Declared,
): WrittenCall | undefined {
  let field: AnyField | undefined = fields[name]
  let at: SyntaxPath = [...path, name]
  while (field && childrenOf(field).item && field.kind === 'list') {
    at = [...at, 0]
    field = childrenOf(field).item
  }
  if (!field) return undefined
  if (rest.length === 0) return configuration.callAt(at)
  return findCall(configuration, { path: [...at, 0], names: rest, fields: childrenOf(field).fields ?? {} })
}

/** The declaration as a reference, with the options that it takes too. */
function referenceTo(
  to: string,
  { options }: WrittenCall,
  { item, ids }: { readonly item: AnyField; readonly ids: ReadonlyMap<string, string> },
): string {
  const kept = options.filter(({ name }) => KEPT.includes(name)).map(({ text }) => text)
  const usual = item.options.default
  if (typeof usual === 'string') kept.push(`default: '${ids.get(usual) ?? usual}'`)
  return `ref('${to}'${kept.length > 0 ? `, { ${kept.join(', ')} }` : ''})`
}

/** What is searched is behind the reference from now on. */
const searchSteps = ({ occurrences }: ConfigurationNames, symbol: string): readonly ChangeStep[] =>
  occurrences.flatMap(({ symbol: own, place, form, isDeclaration, isSearched }): ChangeStep[] => {
    if (own !== symbol || isDeclaration || !isSearched) return []
    const [start, end] = place.span
    const reason = 'it is searched by its name'
    const name = wordsOf(symbol).split('.').slice(1).join('.')
    if (form === 'quoted') return [{ kind: 'edit', file: place.file, span: [end, end], text: '.name', reason }]
    return [{ kind: 'edit', file: place.file, span: [start, end], text: `'${name}.name'`, reason }]
  })

/** Options that a reference does not take, and labels that may be one. */
function attentionFor(
  { place, options }: WrittenCall,
  { kind }: AnyField,
  { near }: { readonly near: readonly (readonly string[])[] },
): readonly Attention[] {
  const lost = options.map(({ name }) => name).filter((name) => !KEPT.includes(name) && name !== 'default')
  const gone = lost.length > 0 && kind !== 'choice' ? [{ place, words: `a reference has no ${lost.join(', ')}` }] : []
  const pairs = near.map(([one = '', other = '']): Attention => {
    return { place, words: `"${one}" and "${other}" are left apart; --same "${one}=${other}" makes them one` }
  })
  return [...gone, ...pairs]
}
