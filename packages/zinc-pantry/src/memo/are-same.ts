/** True for lists of the very same things. */
export const areSame = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one === other || (one.length === other.length && one.every((item, at) => Object.is(item, other[at])))
