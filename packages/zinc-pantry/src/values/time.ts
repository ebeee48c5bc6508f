/** A time of day as `HH:MM` or `HH:MM:SS`. */
export const TIME_PATTERN = '^(?:[01]\\d|2[0-3]):[0-5]\\d(?::[0-5]\\d)?$'
const FORM = new RegExp(TIME_PATTERN)

/** A time of day in the form in which it is kept: without seconds that are 00. Undefined for what is none. */
export const readTime = (text: string): string | undefined =>
  FORM.test(text) ? text.replace(/^(..:..):00$/, '$1') : undefined
