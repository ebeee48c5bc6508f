const DEVICE = /(?:^|\/)(con|prn|aux|nul|com\d|lpt\d)(?:\.[^/]*)?(?=\/|$)/i
const CONTROL = /\p{Cc}/u
const SIGN = /[<>:"|?*\\]/
const END = /[. ](?:\/|$)/

/** Why the path of a file cannot be used on every system, in words for a person; undefined where it can. */
export function findUnportable(path: string): string | undefined {
  if (CONTROL.test(path)) return 'it has a control character'
  const [sign] = SIGN.exec(path) ?? []
  if (sign !== undefined) return `some refuse ${sign === '"' ? 'a quotation mark' : `"${sign}"`}`
  if (END.test(path)) return 'some drop a dot or a space at the end'
  const [, device] = DEVICE.exec(path) ?? []
  return device === undefined ? undefined : `some keep "${device}" for a device`
}
