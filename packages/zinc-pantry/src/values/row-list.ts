/** Rows by their numbers: an array, or what makes a row each time it is asked for, so that none is held. */
export interface RowList<Row> {
  readonly length: number
  at(row: number): Row | undefined
}

/** Rows that are made of the items of a list when they are asked for. */
export const createRowView = <Item, Row>(items: readonly Item[], make: (item: Item) => Row): RowList<Row> => ({
  length: items.length,
  at: (row) => (row < items.length ? make(items[row] as Item) : undefined),
})

/** The rows from one number up to another. */
export const sliceRows = <Row>(rows: RowList<Row>, start: number, end: number): Row[] =>
  Array.isArray(rows)
    ? rows.slice(start, end)
    : Array.from({ length: end - start }, (_, at) => rows.at(start + at) as Row)

/** All rows in an array; an array is itself. */
export const listRows = <Row>(rows: RowList<Row>): readonly Row[] =>
  Array.isArray(rows) ? rows : sliceRows(rows, 0, rows.length)

/** Something of each row. */
export const mapRows = <Row, Made>(rows: RowList<Row>, make: (row: Row, at: number) => Made): Made[] =>
  Array.from({ length: rows.length }, (_, at) => make(rows.at(at) as Row, at))
