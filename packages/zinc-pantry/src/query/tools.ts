import { nameAt, partNameOf } from './catalogue.ts'
import { giveRows } from './give-rows.ts'
import { pathOf, placeOf, QueryError } from './handles.ts'
import { compareEntries, compareScalars, sortedValues } from './order-rows.ts'
import { everyTest } from './positive.ts'
import { remember } from './remember.ts'
import { countBefore, markRows, readStarts, readSteps } from './row-set.ts'
import { checkCount, matchRows, runRows } from './run-query.ts'
import { findById, selectValues, singleValues, throughLists } from './select-values.ts'
import { followPath } from './shape.ts'

/**
 * What the parts that are loaded later work with, beside each other. They import none of it: bundlers put what two parts
 * import into files of its own, and what is loaded at once would be cut into five.
 */
export const TOOLS = {
  checkCount,
  compareEntries,
  compareScalars,
  countBefore,
  everyTest,
  findById,
  followPath,
  giveRows,
  markRows,
  matchRows,
  nameAt,
  partNameOf,
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
  throughLists,
}

export type Tools = typeof TOOLS
