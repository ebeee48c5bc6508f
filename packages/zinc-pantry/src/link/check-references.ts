import { appendAll } from '../diagnostics/append-all.ts'
import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { SettingProblem } from '../schema/settings-reader.ts'
import type { Entry, Reference } from '../validate/entry.ts'
import { createDanglingReporter } from './dangling.ts'
import type { CollectionEntries, ReferenceResolver, UnresolvedReferences } from './link-entry.ts'
import type { EntryMaker } from './make-entry.ts'
import type { Targets } from './targets.ts'

/** The surroundings of the check of references. */
export interface ReferenceContext {
  readonly targets: ReadonlyMap<string, Targets>
  readonly makers: ReadonlyMap<string, EntryMaker>
  readonly resolve: ReferenceResolver
}

/** Describes every reference that leads nowhere, or to more than one entry. */
export function checkReferences(
  collections: readonly CollectionEntries[],
  unresolved: readonly UnresolvedReferences[],
  { targets, makers, resolve }: ReferenceContext,
): {
  readonly diagnostics: Diagnostic[]
  /** Defaults of the configuration that lead nowhere: wrong once, where they are declared. */
  readonly problems: readonly SettingProblem[]
} {
  const describe = createDanglingReporter(collections, targets)
  const diagnostics: Diagnostic[] = []
  const defaults = new Map<string, SettingProblem>()
  const check = (entry: Entry, reference: Reference): void => {
    const { path, text } = reference
    const hits = resolve(reference)
    if (hits.length > 1) {
      const names = hits.map(({ collection }) => collection)
      diagnostics.push(createDiagnostic('ref-ambiguous', entry.locate(path), { id: text, collections: names }))
      return
    }
    const creating = reference.isFound ? [] : reference.targets
    const maker = creating.map((target) => makers.get(target)).find((one) => one !== undefined)
    if (maker) {
      appendAll(diagnostics, maker.make(text, entry, path).problems)
      return
    }
    const dangling = describe(entry, reference)
    if (dangling.code !== 'ref-dangling' || !isDefault(entry, reference)) {
      diagnostics.push(dangling)
      return
    }
    const names = path.filter((step) => typeof step === 'string')
    const setting = ['collections', entry.collection, 'fields', ...names, 'default']
    const problem = { code: 'config-default-dangling', path: setting, parameters: dangling.parameters } as const
    defaults.set([...setting, text].join('\n'), problem)
  }
  for (const { entry, references } of unresolved) for (const reference of references) check(entry, reference)
  return { diagnostics, problems: [...defaults.values()] }
}

/** True for a reference that no file holds: there is no place for it in the entry but that of what is above it. */
function isDefault(entry: Entry, { path }: Reference): boolean {
  const [own, above] = [entry.locate(path), entry.locate(path.slice(0, -1))]
  const [start, end] = own.span
  const isSame = own.file === above.file && start === above.span[0] && end === above.span[1]
  return isSame && entry.locate([]).span[0] === start
}
