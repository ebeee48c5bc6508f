/** A module whose default export is plain data. Engines read JSON text faster than a literal. */
export function emitJsonModule(value: unknown): string {
  const json = JSON.stringify(value).replace(/[\\']/g, '\\$&')
  return `export default JSON.parse('${json}')\n`
}
