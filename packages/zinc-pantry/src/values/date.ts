/** True for a day of the calendar as `YYYY-MM-DD` (ISO 8601). */
export function isDate(text: string): boolean {
  if (!/^\d{4}-\d\d-\d\d$/.test(text)) return false
  // Engines differ in what they make of a 31st of February, but none keeps it.
  const midnight = Date.parse(`${text}T00:00Z`)
  return !Number.isNaN(midnight) && new Date(midnight).toISOString().startsWith(text)
}
