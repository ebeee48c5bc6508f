/**
 * The slug that an id gives: lower case, with everything but letters, digits, `. _ ~ + /` and `-`
 * turned into single hyphens, and none at the ends of a folder's name. Letters of all scripts stay.
 */
export function slugOf(id: string): string {
  if (SLUG.test(id) && !id.includes('/-') && !id.includes('-/')) return id
  const slug = id
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{M}\p{N}._~+/]+/gu, '-')
    .split('/')
    .map((name) => name.replace(/^-+|(?<!-)-+$/g, ''))
    .join('/')
  return slug === '' ? encodeURIComponent(id) : slug
}

/** A slug as most are. */
const SLUG = /^[a-z\d._~+/]+(?:-[a-z\d._~+/]+)*$/

/** Why a slug cannot be the end of an address, in words for a person; undefined where it can. */
export function whySlugUnfit(slug: string): string | undefined {
  const steps = (slug.includes('%') ? slug.replace(/%2e/gi, '.') : slug).split('/')
  if (steps.includes('..') || steps.includes('.')) return 'it leads to another folder'
  if (slug.includes('\\')) return 'it has a backslash'
  return slug.startsWith('/') ? 'it starts with a slash' : undefined
}

/** A number in front of a name, as those of numbered collections have them, and the name. */
export const LEADING_NUMBER = /^(\d{1,9})[-_. ]+(.+)$/

/** A name taken apart: its number, the sign behind that, and the rest; undefined for one without a number. */
export function splitNumber(
  name: string,
): { readonly number: string; readonly sign: string; readonly rest: string } | undefined {
  const [, number, rest = ''] = LEADING_NUMBER.exec(name) ?? []
  if (number === undefined) return undefined
  return { number, sign: name.slice(number.length, name.length - rest.length), rest }
}
