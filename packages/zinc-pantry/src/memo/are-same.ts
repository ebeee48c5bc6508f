/** True for lists of the very same things. */
export const areSame = <Item>(one: readonly Item[], other: readonly Item[]): boolean =>
  one === other || (one.length === other.length && one.every((item, at) => Object.is(item, other[at])))

/** True for lists of lists of the very same things. */
export const areSameLists = <Item>(one: readonly (readonly Item[])[], other: readonly (readonly Item[])[]): boolean =>
  one.length === other.length && one.every((own, at) => areSame(own, other[at] as readonly Item[]))

/** True for maps of the very same things. */
export const areSameMaps = <Value>(one: ReadonlyMap<string, Value>, other: ReadonlyMap<string, Value>): boolean =>
  one === other || (one.size === other.size && [...one].every(([key, value]) => Object.is(other.get(key), value)))
