import { catalogue } from '../diagnostics/catalogue/index.ts'
import { createDiagnostic, createSiteDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type ListMemory, mapAgain, memoryOf } from '../diagnostics/map-again.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { Rule, RuleProblem, RuleTools } from '../schema/computation.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import { type Deriver, NOTHING_SEEN, type Seen } from './derive.ts'

/** Runs the rules of every collection on every entry that has no errors. */
export function runRules(
  collections: readonly LinkedCollection[],
  deriver: Deriver,
  { report, memory }: { report(diagnostic: Diagnostic): void; readonly memory?: RuleMemory | undefined },
): void {
  for (const { collection, entries } of collections) {
    const { name, rules } = collection
    if (rules.length === 0) continue
    const make = (entry: LinkedEntry): Checked => (entry.data ? checkRules(rules, entry, deriver) : NOTHING)
    const isRight = ({ seen }: Checked): boolean => deriver.isSame(seen)
    for (const { diagnostics } of mapAgain(memoryOf(memory, name), entries, { make, isRight }))
      for (const diagnostic of diagnostics) report(diagnostic)
  }
}

/** What rules say of an entry, and what they looked at. */
interface Checked {
  readonly seen: Seen
  readonly diagnostics: readonly Diagnostic[]
}

const NOTHING: Checked = { seen: NOTHING_SEEN, diagnostics: [] }

/** What rules said of entries in earlier runs, by collection. */
export type RuleMemory = Map<string, ListMemory<LinkedEntry, Checked>>

function checkRules(rules: readonly Rule[], entry: LinkedEntry, deriver: Deriver): Checked {
  const diagnostics: Diagnostic[] = []
  const report = (diagnostic: Diagnostic): void => void diagnostics.push(diagnostic)
  const { seen } = deriver.watch(() => {
    for (const rule of rules) runRule(rule, entry, { deriver, report })
  })
  return { seen, diagnostics }
}

interface RuleContext {
  readonly deriver: Deriver
  report(diagnostic: Diagnostic): void
}

function runRule(rule: Rule, entry: LinkedEntry, { deriver, report }: RuleContext): void {
  const tools: RuleTools<unknown> = {
    ...deriver.site,
    get all() {
      return deriver.allOf(entry.collection)
    },
    report(path, problem) {
      checkCode(problem)
      report(createSiteDiagnostic(entry.locate(stepsOf(path)), problem))
    },
  }
  try {
    rule(deriver.viewOf(entry) as never, tools as RuleTools<never>)
  } catch (error) {
    const reason = (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? ''
    report(createDiagnostic('rule-failed', entry.locate([]), { reason, collection: entry.collection }))
  }
}

const stepsOf = (path: string): (string | number)[] =>
  path === '' ? [] : path.split('.').map((step) => (/^\d+$/.test(step) ? Number(step) : step))

function checkCode({ code }: RuleProblem): void {
  if (!/^[a-z][a-z0-9]*(?:-[a-z0-9]+)*$/.test(code)) throw new Error(`the code "${code}" is not in kebab case`)
  if (Object.hasOwn(catalogue, code)) throw new Error(`the code "${code}" has a meaning of its own`)
}
