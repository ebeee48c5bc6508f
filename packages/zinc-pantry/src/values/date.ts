/** True for a day of the calendar as `YYYY-MM-DD` (ISO 8601). */
export function isDate(text: string): boolean {
  const [, year, month, day] = DATE.exec(text) ?? []
  if (year === undefined) return false
  return Number(day) >= 1 && Number(day) <= daysIn(Number(year), Number(month))
}

const DATE = /^(\d{4})-(\d\d)-(\d\d)$/
const DAYS = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]

/** The number of days in a month of the Gregorian calendar, which ISO 8601 uses for all years; none in one that there is not. */
const daysIn = (year: number, month: number): number => (month === 2 && isLeap(year) ? 29 : (DAYS[month - 1] ?? 0))

const isLeap = (year: number): boolean => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0
