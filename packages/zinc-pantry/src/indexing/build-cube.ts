import type { Scalar } from '../query/condition.ts'
import type { Cube } from '../query/cube-format.ts'

/** The number of combinations of values that are kept, at most. */
const MOST_CELLS = 4096
/** A cube is worth it where combinations stand for so many rows each, at least. */
const ROWS_A_CELL = 4

/** Fields that have one of few values in each row: their values by row, and how many different ones there are. */
export interface CubeField {
  readonly path: string
  readonly size: number
  valueAt(row: number): Scalar | null
}

/** Counts the rows of each combination of values of as many fields as have few together; undefined where these are not two. */
export function buildCube(fields: readonly CubeField[], count: number): Cube | undefined {
  const most = Math.min(MOST_CELLS, Math.floor(count / ROWS_A_CELL))
  let cells = new Int32Array(count)
  /** The values of each cell, field by field. */
  let columns: (Scalar | null)[][] = []
  const paths: string[] = []
  for (const { path, valueAt } of fields.toSorted((a, b) => a.size - b.size)) {
    const numbers = new Map<string, number>()
    const next = new Int32Array(count)
    const values: (Scalar | null)[] = []
    /** The cell that each new one is a part of. */
    const parts: number[] = []
    for (let row = 0; row < count && numbers.size <= most; row++) {
      const value = valueAt(row)
      const key = `${cells[row]} ${typeof value} ${value}`
      let cell = numbers.get(key)
      if (cell === undefined) {
        cell = numbers.size
        numbers.set(key, cell)
        values.push(value)
        parts.push(cells[row] as number)
      }
      next[row] = cell
    }
    if (numbers.size > most) continue
    cells = next
    columns = [...columns.map((column) => parts.map((part) => column[part] as Scalar | null)), values]
    paths.push(path)
  }
  if (paths.length < 2) return undefined
  const counts = new Array<number>(columns[0]?.length ?? 0).fill(0)
  for (const cell of cells) counts[cell] = (counts[cell] as number) + 1
  return { paths, columns, counts }
}
