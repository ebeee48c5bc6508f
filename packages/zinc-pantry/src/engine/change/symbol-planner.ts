import type { Change, Refusal } from '../../change/change.ts'
import type { ConfigurationText } from '../../change/configuration-text.ts'
import { type ConfigurationNames, findNames } from '../../change/find-names.ts'
import {
  blockSymbol,
  choiceSymbol,
  choicesOf,
  collectionSymbol,
  fieldOf,
  fieldSymbol,
  type ModelSymbol,
  wordsOf,
} from '../../change/model-names.ts'
import { renameCollectionInContent } from '../../change/rename-collection.ts'
import { renameInContent } from '../../change/rename-in-content.ts'
import { renameInConfiguration, sharingWith } from '../../change/rename-names.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { listNames } from '../../diagnostics/words.ts'
import { isIdentifier } from '../../schema/identifiers.ts'
import type { Model } from '../../schema/model.ts'
import { readOptionsOf } from '../check-file.ts'
import { functionsWithField, functionsWithText } from '../impact/functions.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import type { Target } from './resolve-target.ts'

/** A thing of the model that a person named. */
export type ModelTarget = Extract<Target, { readonly symbol: ModelSymbol }>

/** How a thing of the model is renamed. */
export interface SymbolRequest {
  readonly target: ModelTarget
  readonly name: string
  /** Also what is declared at the same place, as in a shared set of fields. */
  readonly shared: boolean
}

/** Plans the renaming of a collection, a field, a value of a choice or a block, in the configuration and in all that is written. */
export function createSymbolPlanner(
  { target, name, shared }: SymbolRequest,
  { model, configuration }: { readonly model: Model; readonly configuration: ConfigurationText },
): Planner | Refusal {
  const names = findNames(model, configuration)
  const symbols = new Set([target.symbol])
  const others = closeOver(names, symbols)
  const refusal =
    refuseName(model, target, name) ??
    (shared ? undefined : refuseShared(target.symbol, others, '"--shared" renames them all'))
  if (refusal) return refusal
  const all = new Set([...symbols, ...others])
  const collection = target.kind === 'collection' ? target.name : undefined
  const isRenamed = (before: string, after: string): boolean =>
    (before === oldName(target) && after === name) ||
    (collection !== undefined && before === after.replace(`${name}/`, `${collection}/`))
  return {
    plan(subject: ChangeSubject): Change | Refusal {
      const inConfiguration = renameInConfiguration(names, { symbols: all, name }, configuration)
      if (inConfiguration.steps.length === 0)
        return {
          refused: `${wordsOf(target.symbol)} is not written out in the configuration`,
          help: 'Rename it by hand where it is made',
        }
      const inContent =
        collection === undefined
          ? renameInContent(subject, { symbols: all, name }, createSources(subject, readOptionsOf))
          : renameCollectionInContent(subject, { collection, name })
      return {
        words: `${wordsOf(target.symbol)} becomes ${newWords(target, name)}${others.length > 0 ? `, with ${listNames(others.map(wordsOf))}` : ''}`,
        steps: [...inConfiguration.steps, ...inContent.steps],
        attention: [...inConfiguration.attention, ...inContent.attention],
      }
    },
    functionsThatName: () => functionsOf(model, target),
    refuse: (subject, seen) =>
      findOtherValues(subject, seen, {
        mayBecome: isRenamed,
        nameAfter: (entry) => (entry.collection === collection ? { collection: name, id: entry.id } : entry),
        fieldsOf: () => [],
      }),
  }
}

/** All that is declared at the places of some others, and at theirs. */
function closeOver(names: ConfigurationNames, symbols: ReadonlySet<ModelSymbol>): readonly ModelSymbol[] {
  const found = new Set<ModelSymbol>()
  for (;;) {
    const more = sharingWith(names, new Set([...symbols, ...found]))
    if (more.length === 0) return [...found]
    for (const one of more) found.add(one)
  }
}

/** Why something cannot be changed by itself: others are declared at its place. */
export const refuseShared = (symbol: ModelSymbol, others: readonly ModelSymbol[], help: string): Refusal | undefined =>
  others.length === 0
    ? undefined
    : { refused: `${wordsOf(symbol)} shares its declaration with ${listNames(others.map(wordsOf))}`, help }

/** Why a name cannot be given. */
function refuseName(model: Model, target: ModelTarget, name: string): Refusal | undefined {
  if (name === oldName(target)) return { refused: `${wordsOf(target.symbol)} has that name already` }
  if (target.kind !== 'choice' && !isIdentifier(name))
    return { refused: `"${name}" cannot be the name of a ${target.kind}`, help: 'Use letters, digits and _ only' }
  const taken = { refused: `There is ${newWords(target, name)} already` }
  switch (target.kind) {
    case 'collection':
      return model.collections.some((one) => one.name === name) ? taken : undefined
    case 'block':
      return model.blocks.has(name) ? taken : undefined
    case 'field':
      return fieldOf(model, target.owner, [...target.names.slice(0, -1), name]) ? taken : undefined
    case 'choice': {
      const holder = fieldOf(model, target.owner, target.names)
      return holder && choicesOf(holder.field).includes(name) ? taken : undefined
    }
  }
}

/** The part of the name that changes. */
function oldName(target: ModelTarget): string {
  if (target.kind === 'choice') return target.choice
  return target.kind === 'field' ? (target.names.at(-1) ?? '') : target.name
}

function newWords(target: ModelTarget, name: string): string {
  switch (target.kind) {
    case 'collection':
      return wordsOf(collectionSymbol(name))
    case 'block':
      return wordsOf(blockSymbol(name))
    case 'field':
      return wordsOf(fieldSymbol(target.owner, [...target.names.slice(0, -1), name]))
    case 'choice':
      return wordsOf(choiceSymbol(fieldSymbol(target.owner, target.names), name))
  }
}

/** Functions of the configuration that may name it. */
export function functionsOf(model: Model, target: ModelTarget): ReturnType<typeof functionsWithText> {
  if (target.kind === 'collection' || target.kind === 'block') return functionsWithText(model, target.name)
  const owner = target.owner.slice(target.owner.indexOf('.') + 1)
  if (target.kind === 'choice') return functionsWithText(model, target.choice, owner)
  return functionsWithField(model, owner, oldName(target))
}
