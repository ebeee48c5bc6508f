import { appendAll } from '../diagnostics/append-all.ts'
import type { DiagnosticCode, ParametersOf } from '../diagnostics/diagnostic.ts'
import type { CheckRun, ReportedPart, Step } from './check-run.ts'

/** A problem that a trial found, at its path. */
export interface TrialProblem {
  readonly code: DiagnosticCode
  readonly parameters: Readonly<Record<string, unknown>>
  readonly path: readonly Step[]
  readonly part: ReportedPart | undefined
}

/** A check on trial: what it says and notes counts only once it is kept. */
export interface Trial {
  readonly run: CheckRun
  readonly problems: readonly TrialProblem[]
  /** Says and notes it after all. */
  keep(): void
}

/** Starts a check on trial at the place of another; both share the path. */
export function startTrial(run: CheckRun): Trial {
  const problems: TrialProblem[] = []
  const actions: (() => void)[] = []
  /** Notes what is to be done at the present place. */
  const note = (action: () => void): void => {
    const path = [...run.path]
    const { private: depth } = run.within
    actions.push(() => {
      const [lastPath, last] = [[...run.path], run.within.private]
      setPath(run.path, path)
      run.within.private = depth
      action()
      setPath(run.path, lastPath)
      run.within.private = last
    })
  }
  return {
    problems,
    run: {
      ...run,
      report<Code extends DiagnosticCode>(code: Code, parameters: ParametersOf<Code>, part?: ReportedPart) {
        problems.push({ code, parameters: parameters as Readonly<Record<string, unknown>>, path: [...run.path], part })
        note(() => run.report(code, parameters, part))
      },
      reference(wanted) {
        note(() => void run.reference(wanted))
        return wanted.text
      },
      asset(path, sources) {
        note(() => void run.asset(path, sources))
        return run.look(path)
      },
      linked: (text) => note(() => run.linked(text)),
    },
    keep() {
      for (const action of actions) action()
    },
  }
}

function setPath(path: Step[], steps: readonly Step[]): void {
  path.length = 0
  appendAll(path, steps)
}
