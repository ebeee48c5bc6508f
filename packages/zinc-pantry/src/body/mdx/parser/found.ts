/** A block with the number of the first line behind it. */
export interface Found<Node> {
  readonly node: Node
  readonly next: number
}
