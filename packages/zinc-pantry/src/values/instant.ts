import { isDate } from './date.ts'
import { readTime } from './time.ts'
import { instantInZone, startOfDay } from './zone.ts'

/** Why a text is no instant. */
export type InstantFault = 'form' | 'date' | 'time' | 'zone-missing' | 'zone-invalid' | 'skipped' | 'year'

const FORM = /^(\d{4}-\d\d-\d\d)[Tt ](\d\d:\d\d(?::\d\d)?)(?:\.(\d+))?(?: ?([Zz]|[-+]\d\d:\d\d))?$/
const DAY_MS = 86_400_000

/**
 * An instant (RFC 3339) in the form in which it is kept: in UTC with thousandths of seconds, so that texts sort as the
 * instants do. A text without a zone counts in `zone`, a name of the time zone database or an offset.
 */
export function readInstant(
  text: string,
  zone?: string,
): { readonly value: string } | { readonly fault: InstantFault } {
  const [, day = '', clock = '', fraction = 0, written = zone] = FORM.exec(text) ?? []
  if (day === '') return { fault: 'form' }
  if (!isDate(day)) return { fault: 'date' }
  if (readTime(clock) === undefined) return { fault: 'time' }
  if (written === undefined) return { fault: 'zone-missing' }
  const local = Date.parse(`${day}T${clock}Z`) + Math.floor(Number(`0.${fraction}`) * 1000)
  const moment = instantInZone(local, written)
  if (moment === undefined) return { fault: 'skipped' }
  if (Number.isNaN(moment)) return { fault: 'zone-invalid' }
  const value = new Date(moment).toISOString()
  // Other years have more digits, and would sort elsewhere.
  return /^\d{4}-/.test(value) ? { value } : { fault: 'year' }
}

/** The first and the last thousandth of a second of a day in a zone; undefined for what is no day. */
export function readDay(text: string, zone = 'Z'): readonly [first: string, last: string] | undefined {
  if (!isDate(text)) return undefined
  const midnight = Date.parse(`${text}T00:00Z`)
  const [first, next] = [midnight, midnight + DAY_MS].map((local) => startOfDay(local, zone)) as [number, number]
  return [new Date(first).toISOString(), new Date(next - 1).toISOString()]
}
