/** Where the ids of a collection come from, beside the paths of files and the keys of maps. */
export type IdRule =
  /** From these keys of an entry, joined by hyphens. */
  | { readonly by: 'keys'; readonly keys: readonly string[] }
  /** From the position in the list that the entry stands in. */
  | { readonly by: 'position' }
  /** An item of a list has it under the key `id`; others need none. */
  | { readonly by: 'name' }

/** Where the slugs of a collection come from. */
export type SlugRule =
  | { readonly by: 'id' }
  /** From the value of a key where the entry has it, written for addresses. */
  | { readonly by: 'key'; readonly key: string }
  /** From a function of the configuration, as it gives them. */
  | { readonly by: 'function'; readonly from: (entry: never) => unknown }
  /** The collection needs none: each is the id as it is. */
  | { readonly by: 'none' }

/** The keys of an entry that give its id. */
export const idKeysOf = ({ id }: { readonly id: IdRule }): readonly string[] => (id.by === 'keys' ? id.keys : [])

/** The key of an entry that gives its slug. */
export const slugKeyOf = ({ slug }: { readonly slug: SlugRule }): string | undefined =>
  slug.by === 'key' ? slug.key : undefined
