/** The query runtime: what generated modules import. It runs in Node and in browsers. */

export type { BodyImage, OutlineItem } from '../schema/body-facts.ts'
export type { FileValue } from '../schema/fields/file.ts'
export type { ImageValue } from '../schema/fields/image.ts'
export type { MarkdownValue } from '../schema/fields/markdown.ts'
export type { EntrySource } from '../schema/pantry.ts'
export type { EntryBody } from './body-types.ts'
export { type Collection, openCollection, openSingle, type Query, type Single } from './collection.ts'
export type { Condition, ConditionTree, Operator, Scalar, SortKey, SortOptions } from './condition.ts'
export type {
  AnythingHandle,
  BodyHandle,
  BodyImageHandle,
  ChoiceHandle,
  DateHandle,
  FileHandle,
  FlagHandle,
  GroupHandle,
  HasValues,
  ImageHandle,
  InstantHandle,
  ListHandle,
  MarkdownHandle,
  NumberHandle,
  OrderedHandle,
  RefHandle,
  TextHandle,
  TimeHandle,
  ValueHandle,
} from './handle-types.ts'
export { QueryError } from './handles.ts'
export { type FieldNotes, openSite, type Site, type StoredBody, type StoredCollection } from './open-site.ts'
export type { PlanStep } from './run.ts'
export { type QueryPlan, type QueryRequest, type QueryResult, runQuery } from './run-query.ts'
