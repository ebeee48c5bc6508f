/** How a value is remembered. */
export interface ValueOptions<Value> {
  /** Where a new value equals the last one, the last stays. Default: none does. */
  isEqual?(one: Value, other: Value): boolean
  /** False for a value that is made anew each time. Default: true for all. */
  isKept?(value: Value): boolean
}

/** How something is made of each item of a list. */
export interface Making<Item, Made, Key, Read> extends ValueOptions<Made> {
  /** The inputs of all results beside their items. */
  readonly inputs?: readonly unknown[]
  make(item: Item, read: (key: Key) => Read): Made
  /** The key that identifies an item, where it can be another object and yet the same. Default: the item itself. */
  keyOf?(item: Item): unknown
  /** Finds something beside the item that its result is made of. */
  look?(item: Item, key: Key): Read
  /**
   * The sources that reads are answered from: as long as they are the very same, no read is looked up again. Default:
   * none.
   */
  readonly answeredFrom?: readonly unknown[]
  /** The keys of the items whose reads may be answered otherwise than the last time. Default: those of all may be. */
  readonly dirty?: ReadonlySet<unknown> | undefined
  /** True where results read when they are done, and not yet while they are made. Default: false. */
  readonly readsLater?: boolean
  /** Compares what was read with what would be read now. Default: `Object.is`. */
  isSameRead?(one: Read, other: Read): boolean
}
