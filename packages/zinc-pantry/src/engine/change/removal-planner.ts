import type { Change, ChangeStep, Refusal } from '../../change/change.ts'
import type { ConfigurationText } from '../../change/configuration-text.ts'
import { findNames } from '../../change/find-names.ts'
import { choicesOf, fieldOf, wordsOf } from '../../change/model-names.ts'
import { rewritePaths } from '../../change/move-files.ts'
import { removeRecords } from '../../change/remove-records.ts'
import { removeFromConfiguration, removeFromContent } from '../../change/remove-symbol.ts'
import { renameInContent } from '../../change/rename-in-content.ts'
import { sharingWith } from '../../change/rename-names.ts'
import { createSources } from '../../change/source.ts'
import type { ChangeSubject } from '../../change/subject.ts'
import { listNames } from '../../diagnostics/words.ts'
import { qualifiedId } from '../../link/pages.ts'
import { readOptionsOf } from '../check-file.ts'
import { findOtherValues } from './find-other-values.ts'
import type { Planner } from './planner.ts'
import { createRemovePlanner, type RemoveRequest } from './remove-planner.ts'
import { refuseTarget, resolveTarget, type Target } from './resolve-target.ts'
import { functionsOf, type ModelTarget, refuseShared } from './symbol-planner.ts'
import { withoutFront } from './target.ts'

/** Plans a removal, by what the name means. */
export function createRemovalPlanner(
  request: RemoveRequest,
  subject: ChangeSubject,
  { configuration, textOf }: { readonly configuration: ConfigurationText; textOf(file: string): string | undefined },
): Planner | Refusal {
  const { target, replacement } = request
  const found = resolveTarget(subject, target)
  if (!found) return refuseTarget(subject, target)
  if (found.kind === 'entry') return createRemovePlanner(request)
  if (!('symbol' in found)) return createFileRemover(found, replacement)
  if (replacement !== undefined && found.kind !== 'choice')
    return { refused: `Nothing can stand for a ${found.kind}`, help: 'An entry, a value of a choice or a file can' }
  // A value of a choice may be named by its field as well.
  const field = found.kind === 'choice' ? target.slice(0, target.length - found.choice.length) : ''
  const plain = replacement && withoutFront(replacement, field)
  return createSymbolRemover({ target: found, replacement: plain }, subject, { configuration, textOf })
}

interface SymbolRemoval {
  readonly target: ModelTarget
  readonly replacement: string | undefined
}

function createSymbolRemover(
  { target, replacement }: SymbolRemoval,
  { model }: ChangeSubject,
  { configuration, textOf }: { readonly configuration: ConfigurationText; textOf(file: string): string | undefined },
): Planner | Refusal {
  const { symbol } = target
  const names = findNames(model, configuration)
  const shared = refuseShared(symbol, sharingWith(names, new Set([symbol])), 'Write it out where it is to go')
  if (shared) return shared
  const choices =
    target.kind === 'choice'
      ? choicesOf(fieldOf(model, target.owner, target.names)?.field ?? { kind: 'anything', options: {} })
      : []
  if (replacement !== undefined && !choices.includes(replacement))
    return { refused: `${replacement} is none of ${listNames(choices)}` }
  return {
    plan(subject): Change {
      const sourceOf = createSources(subject, readOptionsOf)
      const inConfiguration = removeFromConfiguration(names, symbol, textOf)
      const inContent =
        target.kind === 'collection'
          ? removeRecords(subject, target.name, sourceOf)
          : replacement === undefined
            ? removeFromContent(subject, symbol, sourceOf)
            : renameInContent(subject, { symbols: new Set([symbol]), name: replacement }, sourceOf)
      return {
        words: `${wordsOf(symbol)} goes${replacement === undefined ? '' : `, and ${replacement} stands for it`}`,
        steps: [...inConfiguration.steps, ...inContent.steps],
        attention: [...inConfiguration.attention, ...inContent.attention],
      }
    },
    functionsThatName: (own) => functionsOf(own, target),
    refuse: (own, seen) =>
      findOtherValues(own, seen, {
        mayBecome: (before, after) => target.kind === 'choice' && before === target.choice && after === replacement,
        fieldsOf: (_, collection) => touchedFields(target, collection),
      }),
  }
}

/** The fields of a collection in which something goes. */
function touchedFields(
  target: ModelTarget,
  { name, fields }: { readonly name: string; readonly fields: object },
): readonly string[] {
  if (target.kind === 'block') return Object.keys(fields)
  if (target.kind === 'collection') return []
  const owner = target.owner.slice(target.owner.indexOf('.') + 1)
  return target.owner.startsWith('blocks.') ? Object.keys(fields) : owner === name ? [target.names[0] ?? ''] : []
}

/** Plans the removal of files, with others in their place where these are named. */
function createFileRemover(
  { path, kind }: Extract<Target, { readonly path: string }>,
  replacement: string | undefined,
): Planner | Refusal {
  if (replacement !== undefined && kind === 'folder') return { refused: 'Nothing can stand for a folder' }
  const isGone = (file: string): boolean => file === path || file.startsWith(`${path}/`)
  return {
    plan(subject): Change | Refusal {
      const { content } = subject.model
      const plain = replacement && withoutFront(replacement, `${content}/`)
      if (plain !== undefined && !subject.files.includes(plain)) return { refused: `There is no file ${plain}` }
      const after = {
        fileAfter: (file: string) => (file === path && plain !== undefined ? plain : file),
        nameAfter: qualifiedId,
        addressAfter: () => undefined,
      }
      const rewritten =
        plain === undefined
          ? { steps: [], attention: [] }
          : rewritePaths(subject, after, createSources(subject, readOptionsOf))
      const gone = subject.files
        .filter(isGone)
        .map((file): ChangeStep => ({ kind: 'delete', file: `${content}/${file}`, reason: `${file} goes` }))
      return {
        words: `${path} goes${plain === undefined ? '' : `, and ${plain} stands for it`}`,
        steps: [...gone, ...rewritten.steps],
        attention: rewritten.attention,
      }
    },
    refuse: (own, seen) =>
      findOtherValues(own, seen, {
        mayBecome: () => replacement !== undefined,
        fieldsOf: (_, { fields }) => (replacement === undefined ? [] : Object.keys(fields)),
      }),
  }
}
