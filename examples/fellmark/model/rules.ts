import type { RuleTools } from 'zinc-pantry'

interface Walk {
  readonly grade: string
  readonly legs: readonly { readonly hours: number }[]
}

/** Nobody should be sent on an easy walk of more than four hours between two huts. */
export function wearyLegs(trail: Walk, { report }: RuleTools<Walk>): void {
  if (trail.grade !== 'easy') return
  const position = trail.legs.findIndex((leg) => leg.hours > 4)
  if (position === -1) return
  const problem = {
    code: 'leg-weary',
    message: 'Leg of an easy trail takes more than 4 hours',
    help: 'Grade it moderate, or split it',
  }
  report(`legs.${position}.hours`, problem)
}

interface Stay {
  readonly id: string
  readonly hut: string
  readonly from: string
  readonly until: string
  readonly beds: number
}

/** All beds of a hut can be taken only once a night. */
export function overlappingBookings(stay: Stay, { report, all, entry }: RuleTools<Stay>): void {
  const hut = entry<{ beds: number; name: string }>('huts', stay.hut)
  const same = all.filter(({ hut: other, from, until }) => other === stay.hut && from < stay.until && until > stay.from)
  const beds = same.reduce((sum, other) => sum + other.beds, 0)
  if (!hut || beds <= hut.beds || same[0]?.id !== stay.id) return
  const message = `${hut.name} has ${hut.beds} beds, but ${beds} are booked from ${stay.from}`
  report('beds', { code: 'booking-overlap', message, help: 'Move one of the stays' })
}
