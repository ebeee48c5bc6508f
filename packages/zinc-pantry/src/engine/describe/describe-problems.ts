import type { Diagnostic } from '../../diagnostics/diagnostic.ts'
import { type DiagnosticJson, renderJson } from '../../diagnostics/render-json.ts'
import { describeHead, type HeadView } from './describe-head.ts'
import type { SiteView } from './site-view.ts'

/** A problem for people: its place, words, and the entry that it is of. */
export interface ProblemView extends DiagnosticJson {
  readonly entry?: HeadView
  /** The lines around it, from `firstLine`. */
  readonly excerpt: readonly string[]
  readonly firstLine: number
}

/** Lines before and behind the one that a problem is on. */
const AROUND = 2

/** Describes problems; without a view of the site, which a wrong configuration has none of, no entries are named. */
export function describeProblems(
  diagnostics: readonly Diagnostic[],
  { textOf, view }: { readonly textOf: (file: string) => string | undefined; readonly view: SiteView | undefined },
): readonly ProblemView[] {
  const lines = new Map<string, readonly string[]>()
  const linesOf = (file: string): readonly string[] => {
    const known = lines.get(file) ?? (textOf(file) ?? '').split(/\r?\n/)
    lines.set(file, known)
    return known
  }
  return renderJson(diagnostics, textOf).map((one, at) => {
    const owner = view?.ownerOf(diagnostics[at] as Diagnostic)
    const first = Math.max(1, one.line - AROUND)
    return {
      ...one,
      ...(owner && view ? { entry: describeHead(owner, view) } : {}),
      excerpt: linesOf(one.file).slice(first - 1, Math.min(one.endLine, one.line + AROUND) + AROUND),
      firstLine: first,
    }
  })
}
