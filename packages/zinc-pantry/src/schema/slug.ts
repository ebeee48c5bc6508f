/**
 * The slug that an id gives: lower case, with everything but letters, digits, `. _ ~ + /` and `-`
 * turned into single hyphens, and none at the ends of a folder's name. Letters of all scripts stay.
 */
export function slugOf(id: string): string {
  const slug = id
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{M}\p{N}._~+/]+/gu, '-')
    .replace(/^-+|-+$|-*(\/)-*/g, '$1')
  return slug === '' ? encodeURIComponent(id) : slug
}
