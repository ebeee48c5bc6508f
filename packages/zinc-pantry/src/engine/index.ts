/** The engine: check, build and open a site from a program. It prints nothing and keeps no state. */

export type { Attention, Change, ChangeStep, Refusal } from '../change/change.ts'
export type { Contents } from '../change/contents.ts'
export {
  createDiagnostic,
  type Diagnostic,
  type DiagnosticCode,
  type Edit,
  hasErrors,
  helpOf,
  messageOf,
  type Place,
  type RelatedPlace,
  type Severity,
  type Span,
} from '../diagnostics/diagnostic.ts'
export { diagnosticCodes, type ExplainedCode, explainCode } from '../diagnostics/explain.ts'
export { createLineIndex, type LineIndex } from '../diagnostics/line-index.ts'
export { type DiagnosticJson, renderJson } from '../diagnostics/render-json.ts'
export { renderSarif, type SarifLog, type SarifRun } from '../diagnostics/render-sarif.ts'
export { type Palette, plainPalette, renderText, type TextSource, type TextStyle } from '../diagnostics/render-text.ts'
export { plural } from '../diagnostics/words.ts'
export { type Host, HostError, type Listing, type LoadedConfiguration, type UnreadableFolder } from '../host/host.ts'
export { createMemoryHost, type MemoryHost } from '../host/memory-host.ts'
export { createNodeHost } from '../host/node-host.ts'
export type { ImplicitEntry } from '../link/implicit-entries.ts'
export type { QueryPlan } from '../query/plan.ts'
export { writeCondition } from '../query/write-condition.ts'
export type { JsonSchema } from '../schema/json-schema.ts'
export type { Answer } from './answer.ts'
export { answerQuestion } from './answer-question.ts'
export type { ChangeAnswer, ChangeOptions, ChangeReport, ChangeRequest } from './change-request.ts'
export { changeSite } from './change-site.ts'
export type { Progress } from './check-context.ts'
export {
  type CollectionDescription,
  type Description,
  type DescriptionAnswer,
  describeSite,
  type EntryDescription,
  type FieldDescription,
} from './describe/describe-site.ts'
export type { Dependent, FileAccount } from './file-account.ts'
export type { FileReason } from './file-reason.ts'
export { fixSite } from './fix.ts'
export type { Effect } from './impact/effects.ts'
export { findImpact, type Impact, type ImpactAnswer } from './impact.ts'
export { type OpenedSite, openContent } from './open-content.ts'
export type { Question, QuestionProblem } from './read-question.ts'
export { buildSite, checkSite } from './site.ts'
export type { BuildReport, SiteOptions, SiteReport } from './site-report.ts'
export { describeCollection, type SchemaAnswer } from './site-schema.ts'
export { openSession, type SessionOutput, type SessionReport, type SiteSession } from './site-session.ts'
export { type WatchedSite, type WatchOptions, watchSite } from './watch-site.ts'
export { type WrittenSchemas, writeSchemas } from './write-schemas.ts'
