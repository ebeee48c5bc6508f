/** A value as one line of text, as tables have it: lists of single values with `; `, groups as JSON, nothing empty. */
export function lineOf(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (Array.isArray(value) && value.every((item) => typeof item !== 'object')) return value.join('; ')
  return typeof value === 'object' ? JSON.stringify(value) : String(value)
}
