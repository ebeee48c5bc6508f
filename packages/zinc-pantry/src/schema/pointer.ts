/** A JSON Pointer (RFC 6901) from steps. */
export const pointerOf = (path: readonly (string | number)[]): string =>
  path.map((step) => `/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('')

/** The steps of a JSON Pointer. */
export function pointerSteps(pointer: string): string[] {
  if (pointer === '') return []
  return pointer
    .slice(1)
    .split('/')
    .map((step) => step.replaceAll('~1', '/').replaceAll('~0', '~'))
}
