/** A stay as the booking service tells it. */
interface Booking {
  readonly number: string
  readonly hut: string
  readonly from: string
  readonly until: string
  readonly beds: number
  readonly guest: string
}

const stays: readonly Booking[] = [
  { number: 'B-1041', hut: 'gable', from: '2026-12-11', until: '2026-12-13', beds: 12, guest: 'Night walkers' },
  { number: 'B-1042', hut: 'gable', from: '2026-12-12', until: '2026-12-14', beds: 8, guest: 'Family Orrell' },
  { number: 'B-1043', hut: 'windgate', from: '2026-12-27', until: '2027-01-02', beds: 6, guest: 'A quiet party' },
  {
    number: 'B-1044',
    hut: 'millrace',
    from: '2026-12-05',
    until: '2026-12-06',
    beds: 40,
    guest: 'The choir of Barley End',
  },
  {
    number: 'B-1045',
    hut: 'beacon',
    from: '2027-01-15',
    until: '2027-01-17',
    beds: 4,
    guest: 'Two ornithologists, twice',
  },
]

/** What the booking service of the association would answer. */
export const bookings = () => ({ status: 'ok', bookings: stays })
