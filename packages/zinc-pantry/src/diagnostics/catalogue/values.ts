import { listNames, plural, quote } from '../words.ts'
import { didYouMean, error } from './entry.ts'

const tooFew = (count: number, minimum: number, noun: string): string =>
  `${plural(count, noun)}, expected at least ${minimum}`
const tooMany = (count: number, maximum: number, noun: string): string =>
  `${plural(count, noun)}, expected at most ${maximum}`

/** Problems of one value against its field. */
export const valueCodes = {
  'value-type': error<{ seen: string; expected: string; hint?: string | undefined }>(
    ({ seen, expected }) => `Found ${seen}, expected ${expected}`,
    ({ hint }) => hint,
  ),
  'text-too-short': error<{ length: number; minimum: number }>(
    ({ length, minimum }) => `Text has ${tooFew(length, minimum, 'character')}`,
  ),
  'text-too-long': error<{ length: number; maximum: number }>(
    ({ length, maximum }) => `Text has ${tooMany(length, maximum, 'character')}`,
  ),
  'text-pattern': error<{ value: string; pattern: string }>(
    ({ value, pattern }) => `${quote(value)} does not match the pattern ${pattern}`,
  ),
  'number-too-small': error<{ value: number; limit: number; exclusive: boolean }>(
    ({ value, limit, exclusive }) => `${value} is too small, expected ${exclusive ? 'more than' : 'at least'} ${limit}`,
  ),
  'number-too-large': error<{ value: number; limit: number; exclusive: boolean }>(
    ({ value, limit, exclusive }) => `${value} is too large, expected ${exclusive ? 'less than' : 'at most'} ${limit}`,
  ),
  'number-not-multiple': error<{ value: number; step: number }>(
    ({ value, step }) => `${value} is not a multiple of ${step}`,
  ),
  'number-not-exact': error<{ value: number }>(
    ({ value }) => `${value} is beyond the whole numbers that can be kept exactly`,
    () => 'Keep it as text: quote it and declare the field with text()',
  ),
  'date-invalid': error<{ value: string; reason: string }>(
    ({ value, reason }) => `${quote(value)} is not a calendar date: ${reason}`,
    () => 'Dates are written YYYY-MM-DD, as in ISO 8601',
  ),
  'date-too-early': error<{ value: string; limit: string }>(
    ({ value, limit }) => `${value} is too early, expected ${limit} or later`,
  ),
  'date-too-late': error<{ value: string; limit: string }>(
    ({ value, limit }) => `${value} is too late, expected ${limit} or earlier`,
  ),
  'choice-unknown': error<{ value: string; choices: readonly string[]; suggestion?: string | undefined }>(
    ({ value, choices }) => `${quote(value)} is none of ${listNames(choices)}`,
    ({ suggestion }) => didYouMean(suggestion),
  ),
  'url-invalid': error<{ value: string }>(
    ({ value }) => `${quote(value)} is not an absolute URL`,
    () => 'Write it whole, such as https://example.org/page',
  ),
  'url-scheme': error<{ value: string; scheme: string; schemes: readonly string[] }>(
    ({ scheme, schemes }) =>
      `URL starts with ${quote(`${scheme}:`)}, expected ${listNames(schemes.map((known) => `${known}:`))}`,
  ),
  'list-too-short': error<{ count: number; minimum: number }>(
    ({ count, minimum }) => `List has ${tooFew(count, minimum, 'item')}`,
  ),
  'list-too-long': error<{ count: number; maximum: number }>(
    ({ count, maximum }) => `List has ${tooMany(count, maximum, 'item')}`,
  ),
  'list-item-repeated': error<{ value: string; first: number }>(
    ({ value, first }) => `${value} is already item ${first} of this list`,
    () => 'Items of this list are unique: delete one',
  ),
}
