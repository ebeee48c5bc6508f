/** True for a name of the time zone database, or an offset such as `+01:00`. */
export function isZone(zone: string): boolean {
  // Not every engine takes offsets as zones.
  if (/^[-+](?:[01]\d|2[0-3]):[0-5]\d$/.test(zone)) return true
  // To list the names takes an eighth of the time of the first formatter, which most commands need for nothing else.
  if (Intl.supportedValuesOf('timeZone').includes(zone)) return true
  try {
    formatterOf(zone)
    return true
  } catch {
    return false
  }
}

const formatters = new Map<string, Intl.DateTimeFormat>()

function formatterOf(zone: string): Intl.DateTimeFormat {
  let formatter = formatters.get(zone)
  if (!formatter) {
    const parts = {
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    } as const
    formatter = new Intl.DateTimeFormat('en-u-ca-iso8601', { timeZone: zone, hourCycle: 'h23', ...parts })
    formatters.set(zone, formatter)
  }
  return formatter
}

/** The wall clock of a zone at an instant, as if it were UTC, in milliseconds. */
function wallClock(instant: number, zone: string): number {
  const parts = new Map(
    formatterOf(zone)
      .formatToParts(instant)
      .map(({ type, value }) => [type, Number(value)]),
  )
  const part = (name: Intl.DateTimeFormatPartTypes): number => parts.get(name) ?? 0
  return Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'), part('second'))
}

/** The offset of `Z` or one such as `+01:00` in milliseconds; NaN for one that there is not, undefined for a name. */
function offsetOf(zone: string): number | undefined {
  if (/^z$/i.test(zone)) return 0
  const [, sign, hours, minutes] = /^([-+])(\d\d):(\d\d)$/.exec(zone) ?? []
  if (!sign) return undefined
  const isOffset = Number(hours) < 24 && Number(minutes) < 60
  return isOffset ? (Number(hours) * 60 + Number(minutes)) * (sign === '-' ? -60_000 : 60_000) : Number.NaN
}

/** The instants at which the clock of a zone may show a time, by its offsets a day before and a day behind. */
function candidates(local: number, zone: string): [before: number, behind: number] {
  const seconds = Math.floor(local / 1000) * 1000
  return [-DAY_MS, DAY_MS].map((away) => local - (wallClock(seconds + away, zone) - (seconds + away))) as [
    number,
    number,
  ]
}

const DAY_MS = 86_400_000

/**
 * The instant at which a zone's clock shows a time, both in milliseconds; the earlier one where it shows
 * it twice, undefined where it is put forward over it, NaN for an offset that there is not.
 */
export function instantInZone(local: number, zone: string): number | undefined {
  const offset = offsetOf(zone)
  if (offset !== undefined) return local - offset
  const seconds = Math.floor(local / 1000) * 1000
  const found = candidates(local, zone).filter((one) => wallClock(one, zone) === seconds)
  return found.sort((a, b) => a - b)[0]
}

/** The first instant of a day in a zone, from the midnight of its clock, which it may skip. */
export const startOfDay = (midnight: number, zone: string): number =>
  instantInZone(midnight, zone) ?? candidates(midnight, zone)[0]
