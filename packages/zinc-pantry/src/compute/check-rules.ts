import { catalogue } from '../diagnostics/catalogue/index.ts'
import { createDiagnostic, createSiteDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import type { Rule, RuleProblem, RuleTools } from '../schema/computation.ts'
import type { LinkedEntry } from '../validate/entry.ts'
import type { Deriver } from './derive.ts'
import { UnsoundField } from './entry-views.ts'
import { NOTHING_SEEN, type Seen } from './lookups.ts'

/** The problems that rules report of an entry, and their lookups. */
export interface RulesChecked {
  readonly seen: Seen
  readonly diagnostics: readonly Diagnostic[]
}

const NOTHING: RulesChecked = { seen: NOTHING_SEEN, diagnostics: [] }

/** Runs the rules of a collection on an entry; of one with errors, those that ask for what is right only. */
export function checkRules(rules: readonly Rule[], entry: LinkedEntry, deriver: Deriver): RulesChecked {
  if (!entry.data && !entry.part) return NOTHING
  const diagnostics: Diagnostic[] = []
  const report = (diagnostic: Diagnostic): void => void diagnostics.push(diagnostic)
  const { seen } = deriver.watch(() => {
    for (const rule of rules) runRule(rule, entry, { deriver, report })
  })
  return seen.size === 0 && diagnostics.length === 0 ? NOTHING : { seen, diagnostics }
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
    if (error instanceof UnsoundField) return
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
