import { operatorsOf } from '../values/operators.ts'
import { nameAt, partNameOf } from './catalogue.ts'
import { describe } from './condition.ts'
import { giveRows } from './give-rows.ts'
import { compareEntries, compareScalars, sortedValues } from './order-rows.ts'
import { callWith, pathOf, placeOf } from './place.ts'
import { everyTest } from './positive.ts'
import { describeUnknown, QueryError } from './query-error.ts'
import { remember } from './remember.ts'
import { countBefore, markRows, readStarts, readSteps } from './row-set.ts'
import { checkCount, matchRows, runRows } from './run-query.ts'
import { findById, selectValues, singleValues, throughLists } from './select-values.ts'
import { fieldsOf, followPath, stepInto } from './shape.ts'
import { checkSortKey } from './sort-key.ts'
import { createTest } from './value-test.ts'

/**
 * What the parts that are loaded later work with, beside each other. They import none of it: bundlers put what two parts
 * import into files of its own, and what is loaded at once would be cut into five.
 */
export const TOOLS = {
  callWith,
  checkCount,
  checkSortKey,
  compareEntries,
  compareScalars,
  countBefore,
  createTest,
  describe,
  describeUnknown,
  everyTest,
  fieldsOf,
  findById,
  followPath,
  giveRows,
  markRows,
  matchRows,
  nameAt,
  partNameOf,
  operatorsOf,
  pathOf,
  placeOf,
  QueryError,
  readStarts,
  readSteps,
  remember,
  runRows,
  selectValues,
  singleValues,
  sortedValues,
  stepInto,
  throughLists,
}

export type Tools = typeof TOOLS
