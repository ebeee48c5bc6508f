import { catalogue } from '../diagnostics/catalogue/index.ts'
import { createDiagnostic, createSiteDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { LinkedCollection } from '../link/link-entries.ts'
import type { Rule, RuleProblem, RuleTools } from '../schema/pantry.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Deriver } from './derive.ts'

/** Runs the rules of every collection on every entry that has no errors. */
export function runRules(
  collections: readonly LinkedCollection[],
  deriver: Deriver,
  report: (diagnostic: Diagnostic) => void,
): void {
  for (const { collection, entries } of collections) {
    if (collection.rules.length === 0) continue
    const sound = entries.filter(({ data }) => data !== undefined)
    const all = sound.map((entry) => deriver.viewOf(entry))
    for (const entry of sound) for (const rule of collection.rules) runRule(rule, entry, { all, deriver, report })
  }
}

interface RuleContext {
  readonly all: readonly unknown[]
  readonly deriver: Deriver
  report(diagnostic: Diagnostic): void
}

function runRule(rule: Rule, entry: LinkedEntry, { all, deriver, report }: RuleContext): void {
  const tools: RuleTools<unknown> = {
    ...deriver.site,
    all,
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
  if (!/^[a-z][a-z0-9]*(?:-[a-z0-9]+)+$/.test(code)) throw new Error(`the code "${code}" is not in kebab case`)
  if (Object.hasOwn(catalogue, code)) throw new Error(`the code "${code}" has a meaning of its own`)
}
