/** The query runtime: what generated modules import. It runs in Node and in browsers. */
export type { EntrySource } from '../schema/pantry.ts'
export { type Collection, openCollection, type Query } from './collection.ts'
export type { Condition, ConditionTree, Operator, Scalar, SortKey } from './condition.ts'
export type {
  ChoiceHandle,
  DateHandle,
  FlagHandle,
  GroupHandle,
  HasValues,
  ListHandle,
  NumberHandle,
  OrderedHandle,
  RefHandle,
  TextHandle,
  ValueHandle,
} from './handle-types.ts'
export { QueryError } from './handles.ts'
export { openSite, type Site, type StoredBody, type StoredCollection } from './open-site.ts'
export { type QueryPlan, type QueryRequest, type QueryResult, runQuery } from './run-query.ts'
