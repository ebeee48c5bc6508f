const DEVICE = /(?:^|\/)(con|prn|aux|nul|com\d|lpt\d)(?:\.[^/]*)?(?=\/|$)/i
const CONTROL = /\p{Cc}/u
const SIGN = /[<>:"|?*\\]/
const END = /[. ](?:\/|$)/

/** The path of a file that cannot be used on every system, and why, in words for a person. */
export interface UnportableName {
  readonly name: string
  readonly reason: string
}

/** Finds the paths that cannot be used on every system. */
export const findUnportable = (paths: readonly string[]): UnportableName[] =>
  paths.flatMap((name) => {
    const reason = reasonOf(name)
    return reason === undefined ? [] : [{ name, reason }]
  })

function reasonOf(path: string): string | undefined {
  if (CONTROL.test(path)) return 'it has a control character'
  const [sign] = SIGN.exec(path) ?? []
  if (sign !== undefined) return `some refuse ${sign === '"' ? 'a quotation mark' : `"${sign}"`}`
  if (END.test(path)) return 'some drop a dot or a space at the end'
  const [, device] = DEVICE.exec(path) ?? []
  return device === undefined ? undefined : `some keep "${device}" for a device`
}
