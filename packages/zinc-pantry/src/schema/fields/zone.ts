/** True for a name of the time zone database, or an offset such as `+01:00`. */
export function isZone(zone: string): boolean {
  // Not every engine takes offsets as zones.
  if (/^[-+](?:[01]\d|2[0-3]):[0-5]\d$/.test(zone)) return true
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone })
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

/**
 * The instant at which a zone's clock shows a time, both in milliseconds; the earlier one where it shows
 * it twice, undefined where it is put forward over it.
 */
export function instantInZone(local: number, zone: string): number | undefined {
  const seconds = Math.floor(local / 1000) * 1000
  const candidates = [seconds - 86_400_000, seconds + 86_400_000].map(
    (near) => seconds - (wallClock(near, zone) - near),
  )
  const found = candidates.filter((candidate) => wallClock(candidate, zone) === seconds)
  return found.length === 0 ? undefined : Math.min(...found) + (local - seconds)
}
