/** The query runtime: what generated modules import. It runs in Node and in browsers. */

export type { BodyImage, OutlineItem } from '../schema/body-facts.ts'
export type { EntrySource } from '../schema/entry-types.ts'
export type { FileValue } from '../schema/fields/file.ts'
export type { ImageValue, SizedImageValue } from '../schema/fields/image.ts'
export type { MarkdownValue } from '../schema/fields/markdown.ts'
export type { ImageSource } from '../schema/image-sources.ts'
export type { Comparison, Operator } from '../values/operators.ts'
export type { Backlink } from './backlinks.ts'
export type { BodyHandle, BodyImageHandle } from './body-handle-types.ts'
export type { EntryBody } from './body-types.ts'
export {
  type Backlinks,
  type Collection,
  openCollection,
  openPages,
  openSingle,
  type Single,
  type SitePages,
  type WithHints,
} from './collection.ts'
export type { Condition, ConditionTree, Scalar, SortKey, SortOptions } from './condition.ts'
export { byScore } from './condition.ts'
export type { ValueCount } from './count-values.ts'
export type {
  AnythingHandle,
  ChoiceHandle,
  Common,
  DateHandle,
  Each,
  EachOptions,
  FileHandle,
  FlagHandle,
  GroupHandle,
  HandleOf,
  HasValues,
  Holds,
  ImageHandle,
  InstantHandle,
  ListHandle,
  MapHandle,
  MarkdownHandle,
  NumberHandle,
  Optional,
  OrderedHandle,
  Part,
  Picked,
  RefHandle,
  ScalarOf,
  SizedImageHandle,
  TextHandle,
  TimeHandle,
  ValueHandle,
  ValuesOf,
} from './handle-types.ts'
export { fieldOf } from './handles.ts'
export { loadPage } from './load-page.ts'
export {
  type FieldNotes,
  openSite,
  type Site,
  type StoredBody,
  type StoredCollection,
  type StoredPages,
} from './open-site.ts'
export type { QueryPlan, QueryResult } from './plan.ts'
export { type BoundingBox, distance, type Point, within } from './positions.ts'
export { QueryError } from './query-error.ts'
export type { QueryRequest } from './query-request.ts'
export type {
  Completion,
  EntryGroup,
  Facets,
  GroupOptions,
  GroupValue,
  Hit,
  HitOptions,
  LabelledCount,
  Match,
  Page,
  PageOptions,
  Query,
  ScoredEntry,
  Statistics,
  ValueRange,
} from './query-types.ts'
export type { PlanStep } from './run.ts'
export { runQuery } from './run-query.ts'
export type { FoundWord, WordRelation } from './search-format.ts'
export type { Redirect, SitePage } from './site-pages.ts'
export type { StaticPage, StaticPages, StaticPagesOptions, StaticPart } from './static-pages.ts'
export { type ReadCondition, readCondition } from './text-form.ts'
export type { TextFormProblem } from './text-form-problem.ts'
export type { CountedNode, CountOptions, Tree, TreeNode } from './tree.ts'
export { writeCondition } from './write-condition.ts'
