import { describeValue } from '../../diagnostics/words.ts'
import type { AssetFacts } from '../asset.ts'
import { type CheckRun, INVALID, wrongType } from '../check-run.ts'
import type { CommonOptions, Field, FieldOptions, Nullable } from '../field.ts'
import { addressOfAsset, checkSources, type ImageSource, planSources, type SourceOptions } from '../image-sources.ts'
import { type Kind, storeAsIs } from '../kind.ts'
import { type AssetLimits, checkAsset, withKinds } from './asset-file.ts'

/** Kinds of images that are told by their bytes. */
export const IMAGE_KINDS = ['png', 'jpeg', 'webp', 'avif', 'gif', 'svg'] as const

/** Options of {@link image}. */
export interface ImageOptions extends CommonOptions, AssetLimits {
  /** Kinds allowed. Default: all. */
  readonly kinds?: readonly (typeof IMAGE_KINDS)[number][]
  /** Least width, in pixels. Default: no limit. */
  readonly minWidth?: number
  /** Greatest width, in pixels. Default: no limit. */
  readonly maxWidth?: number
  /** Least height, in pixels. Default: no limit. */
  readonly minHeight?: number
  /** Greatest height, in pixels. Default: no limit. */
  readonly maxHeight?: number
  /**
   * Whether writers are asked for a text in place of the image: `ask` warns where there is none, `require`
   * refuses. Empty text is one, for an image that says nothing. Default: `ask`.
   */
  readonly alternative?: 'ask' | 'require' | 'none'
  /**
   * The sizes and formats in which a build makes the image, by the package `sharp`, which the site installs. Default: none.
   */
  readonly sources?: SourceOptions
}

/** A field of {@link image}. */
export interface ImageField<Value = unknown> extends Field<Value, never> {
  readonly kind: 'image'
  readonly options: ImageOptions & FieldOptions
}

/** The value of an image field. */
export interface ImageValue {
  /** Relative to the content folder, with forward slashes. */
  readonly file: string
  /** The alternative text, or null where nothing was written. */
  readonly alt: string | null
  readonly kind: string
  /** In pixels, or null for a drawing without a size of its own. */
  readonly width: number | null
  readonly height: number | null
  readonly sizeBytes: number
}

/** The value of an image field with sources. */
export interface SizedImageValue extends ImageValue {
  /** The address of the image itself. */
  readonly src: string
  /** For elements `source` in front of an `img`, in one `picture`; none for drawings and for what moves. */
  readonly sources: readonly ImageSource[]
}

/** The value of an image field by its options. */
type ImageValueOf<Options extends ImageOptions> = Options extends { readonly sources: SourceOptions }
  ? SizedImageValue
  : ImageValue

/**
 * A field that names an image of the content folder: a path, relative to the entry's own file or to the content
 * folder with `/` in front, or a group of `file` and `alt`. Kind, dimensions and size are read from its bytes. With `sources` a
 * build makes it in other sizes and formats too.
 *
 * Diagnostics: `value-type`, `asset-missing`, `asset-outside`, `asset-guarded`, `asset-disguised`, `asset-kind`, `asset-too-large`,
 * `image-dimensions`, `image-unreadable`, `image-alternative`, `image-alternative-required`, `field-unknown`.
 *
 * @example
 * ```ts
 * import { image } from 'zinc-pantry'
 *
 * const photo = image({ optional: true, kinds: ['jpeg', 'webp'], minWidth: 800, alternative: 'require' })
 * ```
 */
export function image<const Options extends ImageOptions = Record<never, never>>(
  options?: Options,
): ImageField<Nullable<ImageValueOf<Options>, Options>> {
  return { kind: 'image', options: options ?? {} }
}

const expected = ({ options }: ImageField): string => withKinds('the path of an image', options.kinds)
const KEYS = ['file', 'alt']

export const imageKind: Kind<ImageField> = {
  expected,
  options: {
    kinds: 'texts',
    maxSizeBytes: 'count',
    minWidth: 'count',
    maxWidth: 'count',
    minHeight: 'count',
    maxHeight: 'count',
    alternative: ['ask', 'require', 'none'],
    sources: 'any',
  },
  checkDeclaration({ options: { sources } }, reader, path) {
    checkSources(reader, [...path, 'sources'], sources)
  },
  ranges: [
    ['minWidth', 'maxWidth'],
    ['minHeight', 'maxHeight'],
  ],
  compile: (field) => (value, run) => {
    const options = field.options
    if (typeof value === 'string' && value !== '') return checkImage(value, undefined, { options, run })
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return wrongType(run, value === '' ? 'empty text' : describeValue(value), expected(field))
    return checkGroup(value as Record<string, unknown>, field, run)
  },
  shape: () => ({
    kind: 'group',
    fields: {
      file: { kind: 'text' },
      alt: { kind: 'text' },
      kind: { kind: 'plain' },
      width: { kind: 'number' },
      height: { kind: 'number' },
      sizeBytes: { kind: 'number' },
    },
  }),
  store: storeAsIs,
  valueType: ({ options }) => (options.sources ? '$.SizedImageValue' : '$.ImageValue'),
  handleType: ({ options }) => (options.sources ? '$.SizedImageHandle' : '$.ImageHandle'),
  jsonSchema: () => ({
    anyOf: [
      { type: 'string', minLength: 1 },
      {
        type: 'object',
        properties: { file: { type: 'string', minLength: 1 }, alt: { type: ['string', 'null'] } },
        required: ['file'],
        additionalProperties: false,
      },
    ],
  }),
}

function checkGroup(value: Record<string, unknown>, field: ImageField, run: CheckRun): unknown {
  const options = field.options
  const inside = <Result>(key: string, check: () => Result): Result => {
    run.path.push(key)
    const result = check()
    run.path.pop()
    return result
  }
  let valid = true
  for (const key of Object.keys(value))
    if (!KEYS.includes(key)) {
      inside(key, () => run.report('field-unknown', { key, known: KEYS }, 'key'))
      valid = false
    }
  const { file = null, alt = null } = value
  if (file === null) {
    inside('file', () => run.report('field-missing', { field: 'file', expected: expected(field) }, 'absent'))
    return INVALID
  }
  if (alt !== null && typeof alt !== 'string') {
    inside('alt', () => wrongType(run, describeValue(alt), 'text'))
    valid = false
  }
  if (typeof file !== 'string' || file === '')
    return inside('file', () => wrongType(run, file === '' ? 'empty text' : describeValue(file), expected(field)))
  const checked = inside('file', () => checkImage(file, typeof alt === 'string' ? alt : undefined, { options, run }))
  return valid ? checked : INVALID
}

function checkImage(
  path: string,
  alt: string | undefined,
  { options, run }: { options: ImageOptions; run: CheckRun },
): unknown {
  const kinds = options.kinds ?? IMAGE_KINDS
  const facts = checkAsset(path, { ...options, kinds }, run)
  if (facts === INVALID) return INVALID
  const wrong = whyUnfit(facts, options)
  if (wrong) {
    run.report('image-dimensions', wrong)
    return INVALID
  }
  if (facts.kind === undefined) {
    run.report('image-unreadable', { path })
    return INVALID
  }
  const { alternative = 'ask' } = options
  if (alt === undefined && alternative === 'ask') run.report('image-alternative', {})
  if (alt === undefined && alternative === 'require') {
    run.report('image-alternative-required', {})
    return INVALID
  }
  const { file, kind, width, height, sizeBytes } = facts
  const value = { file, alt: alt ?? null, kind, width: width ?? null, height: height ?? null, sizeBytes }
  if (!options.sources) return value
  return { ...value, src: addressOfAsset(facts), sources: planSources(facts, options.sources).sources }
}

/** The first dimension that is not within its limits. A drawing without a size fits all. */
function whyUnfit(
  { width, height }: AssetFacts,
  { minWidth, maxWidth, minHeight, maxHeight }: ImageOptions,
): { side: string; pixels: number; limit: number; atLeast: boolean } | undefined {
  const limits = [
    { side: 'wide', pixels: width, limit: minWidth, atLeast: true },
    { side: 'wide', pixels: width, limit: maxWidth, atLeast: false },
    { side: 'high', pixels: height, limit: minHeight, atLeast: true },
    { side: 'high', pixels: height, limit: maxHeight, atLeast: false },
  ]
  for (const { side, pixels, limit, atLeast } of limits) {
    if (pixels === undefined || limit === undefined) continue
    if (atLeast ? pixels < limit : pixels > limit) return { side, pixels, limit, atLeast }
  }
  return undefined
}
