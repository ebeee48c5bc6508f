import type { valueCodes } from '../catalogue/values.ts'
import type { Explanations } from './explanation.ts'

/** The meanings of the codes of single values, with a wrong and a right text. */
export const valueExplanations: Explanations<typeof valueCodes> = {
  'value-type': [
    'A value is of another type than its field. Nothing is converted in silence: a number in quotes is text.',
    'beds: "24"',
    'beds: 24',
  ],
  'text-too-short': [
    'A text has fewer characters than minLength; Unicode code points are counted.',
    'title: Go',
    'title: Go up',
  ],
  'text-too-long': [
    'A text has more characters than maxLength; Unicode code points are counted.',
    'title: (120 characters)',
    'title: (80 characters)',
  ],
  'text-pattern': ['A text does not match the pattern of its field.', 'code: gable   # ^[A-Z]', 'code: Gable'],
  'pattern-slow': [
    'A pattern that looks ahead or behind, or refers to a group, tries too many ways to match a text: repetitions in it can take the same characters, so that their number doubles with every character. All other patterns take a time in proportion to the text. Change the pattern in the configuration.',
    "pattern: '^(?=(a+)+$)'",
    "pattern: '^a+$'",
  ],
  'text-line-break': ['A text of one line has a line break in it.', 'title: |\n  Gable\n  Hut', 'title: Gable Hut'],
  'number-leading-zero': [
    'A number is written with zeros in front. YAML 1.2 reads 010 as 10, older readers as 8.',
    'beds: 010',
    'beds: 10',
  ],
  'form-invalid': [
    'A text is not of the form that its field wants: a time, an instant, a duration, an email address, a colour.',
    'opens: 5:30',
    'opens: "05:30"',
  ],
  'form-too-low': [
    'A time or an instant is before the minimum of its field.',
    'opens: 05:00   # minimum 06:00',
    'opens: 06:30',
  ],
  'form-too-high': [
    'A time or an instant is after the maximum of its field.',
    'opens: 23:00   # maximum 22:00',
    'opens: 21:30',
  ],
  'either-unmatched': [
    'A value may be of one of several fields, and fits none. It is told which of those of its type came nearest, by the number of its problems, and the first problem of that.',
    'credit: { nmae: Tobias }   # { name } or { company, page }',
    'credit: { name: Tobias }',
  ],
  'map-too-small': ['A map has fewer keys than minProperties.', 'names: {}', 'names: { en: Hut }'],
  'map-too-large': [
    'A map has more keys than maxProperties.',
    'names: { en: a, nn: b, nb: c }   # at most 2',
    'names: { en: a, nn: b }',
  ],
  'yaml-word': [
    'Where a field takes anything, a bare yes, no, on or off is text by YAML 1.2, and true or false to older readers.',
    'extra: { country: NO }',
    'extra: { country: "NO" }',
  ],
  'asset-missing': [
    'A field names a file that is not there. Paths are relative to the entry’s own file, or to the content folder with / in front.',
    'photo: gabel.jpg',
    'photo: gable.jpg',
  ],
  'asset-outside': [
    'A field names a file outside of the content folder, which content may not reach.',
    'photo: ../../secret.png',
    'photo: ../pictures/gable.png',
  ],
  'asset-guarded': [
    'A field names a file that a collection reads, and that collection has private fields or drafts, which the file would publish.',
    'sheet: ../huts.csv   # the wardens of huts are private',
    'sheet: ../sheets/huts.csv',
  ],
  'asset-kind': ['A file is of a kind that its field does not allow.', 'photo: plan.pdf', 'photo: gable.jpg'],
  'asset-disguised': [
    'The ending of a file says one kind, its bytes another. Browsers and tools would trip over it.',
    'gable.jpg   # a PNG inside',
    'gable.png',
  ],
  'asset-too-large': [
    'A file is larger than maxSizeBytes.',
    'photo: original.jpg   # 9 MB',
    'photo: web.jpg   # 300 KB',
  ],
  'image-dimensions': [
    'An image is wider, narrower, higher or lower than its field allows.',
    'photo: thumb.jpg   # 200 pixels, minWidth 800',
    'photo: large.jpg',
  ],
  'image-unreadable': [
    'A file that should be an image is none, or is damaged. What only those find who look at every pixel is told by a build that makes it in other sizes.',
    'photo: notes.png   # text inside',
    'photo: gable.png',
  ],
  'image-alternative': [
    'An image has no text for those who cannot see it. An empty text is one, for images that say nothing.',
    'photo: gable.jpg',
    'photo: { file: gable.jpg, alt: The hut under snow }',
  ],
  'image-alternative-required': [
    'This field demands a text for those who cannot see the image. An empty text is one, for images that say nothing.',
    'photo: gable.jpg',
    'photo: { file: gable.jpg, alt: The hut under snow }',
  ],
  'number-too-small': ['A number is below its minimum.', 'beds: -1', 'beds: 0'],
  'number-too-large': ['A number is above its maximum.', 'beds: 90   # at most 60', 'beds: 60'],
  'number-not-multiple': ['A number is no multiple of multipleOf.', 'slope: 12.3   # of 0.5', 'slope: 12.5'],
  'number-not-exact': [
    'A whole number beyond 2^53 cannot be kept exactly. Long numbers are mostly codes, which are text.',
    'code: 90071992547409920',
    'code: "90071992547409920"',
  ],
  'date-invalid': ['A date does not exist, or is not written as ISO 8601 has it.', 'on: 2026-02-31', 'on: 2026-02-28'],
  'date-too-early': [
    'A date is before the minimum of its field.',
    'built: 1899-12-31   # from 1900',
    'built: 1900-01-01',
  ],
  'date-too-late': [
    'A date is after the maximum of its field.',
    'built: 2031-01-01   # until 2030',
    'built: 2030-12-31',
  ],
  'choice-unknown': [
    'A value is none of the words that its field allows. Case counts.',
    'grade: medium',
    'grade: moderate',
  ],
  'url-invalid': [
    'A URL is absolute: with a scheme, and without spaces.',
    'booking: huts.example/gable',
    'booking: https://huts.example/gable',
  ],
  'url-scheme': [
    'A URL has a scheme that its field does not allow.',
    'booking: ftp://huts.example',
    'booking: https://huts.example',
  ],
  'list-too-short': ['A list has fewer items than minItems.', 'legs: []', 'legs: [{ hut: gable, hours: 4 }]'],
  'list-too-long': ['A list has more items than maxItems.', 'tags: [a, b, c, d]   # at most 3', 'tags: [a, b, c]'],
  'list-item-repeated': [
    'The items of a list are declared unique, and one stands twice.',
    'tags: [a, b, a]',
    'tags: [a, b]',
  ],
}
