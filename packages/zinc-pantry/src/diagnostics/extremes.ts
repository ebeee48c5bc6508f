/** The largest of some numbers, however many there are; of none what is given. */
export function largest(numbers: Iterable<number>, ofNone: number): number {
  let found = ofNone
  for (const number of numbers) if (number > found) found = number
  return found
}

/** The smallest of some numbers, however many there are; of none what is given. */
export function smallest(numbers: Iterable<number>, ofNone: number): number {
  let found = ofNone
  for (const number of numbers) if (number < found) found = number
  return found
}
