/**
 * A module whose default export is plain data, and `size` the bytes of its JSON. Engines read JSON text faster than a
 * literal.
 */
export function emitJsonChunk(value: unknown): string {
  const json = JSON.stringify(value)
  const size = new TextEncoder().encode(json).length
  return `export const size = ${size}\nexport default JSON.parse('${json.replace(/[\\']/g, '\\$&')}')\n`
}
