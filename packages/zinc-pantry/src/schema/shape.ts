/** The shape of a field in queries, which the generated module carries. */
export type Shape = ListShape | MapShape | GroupShape | RefShape | TextShape | InstantShape | PlainShape

/** The members of all shapes, so that every shape can be asked for each. */
interface ShapeParts {
  readonly item?: never
  readonly keys?: never
  readonly fields?: never
  readonly target?: never
  readonly choices?: never
  readonly zone?: never
}

/** Several values. */
export interface ListShape extends Omit<ShapeParts, 'item'> {
  readonly kind: 'list'
  readonly item: Shape
}

/** Values under keys that writers choose. */
export interface MapShape extends Omit<ShapeParts, 'item' | 'keys'> {
  readonly kind: 'map'
  readonly item: Shape
  readonly keys: Shape
}

/** Values by name. */
export interface GroupShape extends Omit<ShapeParts, 'fields'> {
  readonly kind: 'group'
  readonly fields: { readonly [name: string]: Shape }
  /** Of the address of an entry the collections that it may be in. */
  readonly targets?: readonly string[]
}

/** An entry of another collection. */
export interface RefShape extends Omit<ShapeParts, 'target'> {
  readonly kind: 'ref'
  readonly target: string
}

/** A text; `plain` has no order. */
export interface TextShape extends Omit<ShapeParts, 'choices'> {
  readonly kind: 'text' | 'plain'
  /** The values that are allowed, where they are few and known. */
  readonly choices?: readonly string[]
}

/** A point in time. */
export interface InstantShape extends Omit<ShapeParts, 'zone'> {
  readonly kind: 'instant'
  /** The zone of instants and days that name none. Default: UTC. */
  readonly zone?: string
}

/** A single value, or one of which nothing is known. */
export interface PlainShape extends ShapeParts {
  readonly kind: 'number' | 'date' | 'time' | 'flag' | 'anything'
}
