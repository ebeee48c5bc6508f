import { computedKind, isComputed } from '../values/computed-steps.ts'
import { operatorsOf } from '../values/operators.ts'
import { nameAt, nameOfRows, nameOfSort, numberOf } from './catalogue.ts'
import { compareEntries, compareScalars } from './compare-keys.ts'
import { byScore, describe } from './condition.ts'
import { compilePredicate } from './find-rows.ts'
import { getOrCreate } from './get-or-create.ts'
import { giveRows } from './give-rows.ts'
import { loadComputation } from './load-computation.ts'
import { everyTest } from './negation-normal-form.ts'
import { sortedValues } from './order-rows.ts'
import { callWith, pathOf, placeOf } from './place.ts'
import { allRows, countBefore, decodeDeltas, markRows, readOffsets } from './posting-list.ts'
import { describeUnknown, QueryError } from './query-error.ts'
import { readPath } from './read-path.ts'
import { checkCount, matchRows, runRows } from './run-query.ts'
import { findById, selectValues, singleValues, throughLists } from './select-values.ts'
import { fieldsOf, followPath, stepInto } from './shape.ts'
import { checkSortKey } from './sort-key.ts'
import { createTest, whyIncomparable } from './value-test.ts'

/**
 * The runtime internals that lazy results work with. They import none of it: bundlers put what two parts
 * import into files of its own, and what is loaded at once would be cut into five.
 */
export const INTERNALS = {
  allRows,
  byScore,
  callWith,
  checkCount,
  checkSortKey,
  compareEntries,
  compareScalars,
  compilePredicate,
  computedKind,
  countBefore,
  createTest,
  describe,
  describeUnknown,
  everyTest,
  fieldsOf,
  findById,
  followPath,
  giveRows,
  isComputed,
  loadComputation,
  markRows,
  matchRows,
  nameAt,
  nameOfRows,
  nameOfSort,
  numberOf,
  operatorsOf,
  pathOf,
  placeOf,
  QueryError,
  readOffsets,
  readPath,
  decodeDeltas,
  getOrCreate,
  runRows,
  selectValues,
  singleValues,
  sortedValues,
  stepInto,
  throughLists,
  whyIncomparable,
}

export type Internals = typeof INTERNALS
