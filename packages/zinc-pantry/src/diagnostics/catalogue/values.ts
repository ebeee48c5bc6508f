import { formatCount } from '../format-count.ts'
import { listNames, plural, quote } from '../words.ts'
import { didYouMean, error, fault, warning } from './entry.ts'

const tooFew = (count: number, minimum: number, noun: string): string =>
  `${plural(count, noun)}, expected at least ${minimum}`
const tooMany = (count: number, maximum: number, noun: string): string =>
  `${plural(count, noun)}, expected at most ${maximum}`

/** Problems of one value against its field. */
export const valueCodes = {
  'value-type': error<{ seen: string; expected: string; hint?: string | undefined; type?: string | undefined }>(
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
  'pattern-slow': fault(
    error<{ value: string; pattern: string }>(
      ({ value, pattern }) => `It took too long to match ${quote(value)} with the pattern ${pattern}`,
      () => 'Write the pattern without looking ahead or behind and without "\\1": then it cannot take long',
    ),
  ),
  'text-line-break': error<Record<never, never>>(
    () => 'Text goes over several lines, expected one',
    () => 'Write it on one line; in YAML ">" folds lines into one',
  ),
  'number-leading-zero': warning<{ written: string; value: number }>(
    ({ written, value }) => `${written} is read as ${value}`,
    ({ value }) => `Write ${value}, or quote it if the zeros count`,
  ),
  'form-invalid': error<{ value: string; expected: string; reason: string; help: string; form?: string | undefined }>(
    ({ value, expected, reason }) => `${quote(value)} is not ${expected}: ${reason}`,
    ({ help }) => help,
  ),
  'form-too-low': error<{ value: string; limit: string }>(
    ({ value, limit }) => `${value} is too early, expected ${limit} or later`,
  ),
  'form-too-high': error<{ value: string; limit: string }>(
    ({ value, limit }) => `${value} is too late, expected ${limit} or earlier`,
  ),
  'either-unmatched': error<{ nearest: string; number: number; problem: string }>(
    ({ nearest, number, problem }) => `None fits; nearest is ${nearest} (number ${number}): ${problem}`,
    () => 'The value fits none of the fields that it may be of; mend it for the nearest',
  ),
  'map-too-small': error<{ count: number; minimum: number }>(
    ({ count, minimum }) => `Map has ${tooFew(count, minimum, 'key')}`,
  ),
  'map-too-large': error<{ count: number; maximum: number }>(
    ({ count, maximum }) => `Map has ${tooMany(count, maximum, 'key')}`,
  ),
  'yaml-word': warning<{ word: string }>(
    ({ word }) => `${word} is text here; some readers take it for true or false`,
    ({ word }) => `Quote it, "${word}", or write true or false`,
  ),
  'asset-missing': error<{ path: string; looked: string; suggestion?: string | undefined }>(
    ({ path }) => `There is no file ${quote(path)}`,
    ({ looked, suggestion }) => didYouMean(suggestion, `Looked for ${quote(looked)} in the content folder`),
  ),
  'asset-outside': error<{ path: string }>(
    ({ path }) => `${quote(path)} leads out of the content folder`,
    () => 'Put the file into the content folder',
  ),
  'asset-guarded': error<{ path: string; collection: string }>(
    ({ path, collection }) => `${quote(path)} is content of ${collection}, which has private or unpublished parts`,
    () => 'A file that a field names is published whole: name a copy without those parts',
  ),
  'asset-kind': error<{ kind: string; kinds: readonly string[] }>(
    ({ kind, kinds }) => `File is ${quote(kind)}, expected ${listNames(kinds)}`,
  ),
  'asset-disguised': error<{ path: string; claimed: string; kind: string }>(
    ({ path, kind }) => `${quote(path)} is really ${quote(kind)} by its bytes`,
    () => 'Rename the file, or convert it',
  ),
  'asset-too-large': error<{ sizeBytes: number; limit: number }>(
    ({ sizeBytes, limit }) => `File has ${formatCount(sizeBytes)} bytes, expected at most ${formatCount(limit)}`,
  ),
  'image-dimensions': error<{ side: string; pixels: number; limit: number; atLeast: boolean }>(
    ({ side, pixels, limit, atLeast }) =>
      `Image is ${pixels} pixels ${side}, expected at ${atLeast ? 'least' : 'most'} ${limit}`,
  ),
  'image-unreadable': error<{ path: string; reason?: string | undefined }>(
    ({ path }) => `${quote(path)} is no image that can be read`,
    ({ reason }) => reason,
  ),
  'image-alternative': warning<{ in?: 'markdown' | 'mdx' | undefined }>(
    () => 'Image has no alternative text',
    ({ in: format }) =>
      format === undefined
        ? 'Write it as { file: …, alt: … }; an empty text is for images that say nothing'
        : `Write it as ![what it shows](…); one that says nothing is <img src="…" alt=""${format === 'mdx' ? ' /' : ''}>`,
  ),
  'image-alternative-required': error<Record<never, never>>(
    () => 'Image has no alternative text, which is required here',
    () => 'Write it as { file: …, alt: … }; an empty text is for images that say nothing',
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
