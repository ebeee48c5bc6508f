/** A number and what it counts. */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en-GB')} ${count === 1 ? one : many}`

/** A size for people. */
export function sizeWords(bytes: number): string {
  if (bytes < 1_000) return `${bytes} B`
  return bytes < 1_000_000 ? `${(bytes / 1_000).toFixed(1)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}

/** How long ago a moment was. */
export function agoWords(instant: string, now = Date.now()): string {
  const seconds = Math.max(0, (now - Date.parse(instant)) / 1_000)
  if (seconds < 60) return 'just now'
  if (seconds < 3_600) return `${Math.floor(seconds / 60)} min ago`
  if (seconds < 86_400) return `${Math.floor(seconds / 3_600)} h ago`
  return instant.slice(0, 10)
}

/** A value on one line. */
export function valueWords(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (typeof value === 'string') return value
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'number') return String(value)
  if (Array.isArray(value)) return value.map(valueWords).join(', ')
  return Object.entries(value)
    .filter(([, inner]) => inner !== null && inner !== '')
    .map(([key, inner]) => `${key}: ${valueWords(inner)}`)
    .join(', ')
}
