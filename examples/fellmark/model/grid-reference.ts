import type { StandardValidator } from 'zinc-pantry'

const FORM = /^[A-Z]{2} \d{3} \d{3}$/

/** Grid references of the association's own map, as a validator by the open Standard Schema interface. */
export const gridReference: StandardValidator<string | null> = {
  '~standard': {
    version: 1,
    vendor: 'fellmark',
    validate(value) {
      if (value === undefined || value === null) return { value: null }
      if (typeof value === 'string' && FORM.test(value)) return { value }
      return { issues: [{ message: 'A grid reference is two letters and two times three digits, as "NF 402 118"' }] }
    },
  },
}
