import type { AssetFacts } from './asset.ts'
import type { SettingStep, SettingsReader } from './settings-reader.ts'

/** Kinds of images that can be made of others. */
export const MADE_KINDS = ['avif', 'webp', 'jpeg', 'png'] as const

/** The sizes and formats in which an image is made. */
export interface SourceOptions {
  /**
   * Widths in pixels. None is made that is wider than the image itself; where the image is narrower than the widest, it is made in
   * its own width too. Default: 480, 960 and 1440.
   */
  readonly widths?: readonly number[]
  /** Formats, those that a browser should try first in front. Default: `webp`. */
  readonly kinds?: readonly (typeof MADE_KINDS)[number][]
  /** From 1 to 100. Default: that of the format. */
  readonly quality?: number
}

/** The attributes of an element `source` of the HTML standard. */
export interface ImageSource {
  /** A media type, such as `image/webp`. */
  readonly type: string
  /** The addresses of the image in all widths, such as `/images/gable-480-3f2a1b4c5d6e.webp 480w`. */
  readonly srcset: string
}

/** An image that is made of another one. */
export interface Rendition {
  /** Relative to the generated folder. Its name says of what it is made, and how. */
  readonly file: string
  /** The image it is made of, relative to the content folder. */
  readonly from: string
  readonly width: number
  readonly kind: (typeof MADE_KINDS)[number]
  readonly quality?: number | undefined
}

/** The sources of an image, and what they consist of. */
export interface SourcePlan {
  readonly sources: readonly ImageSource[]
  readonly renditions: readonly Rendition[]
}

/** The folder of images that were made, below the generated one and in addresses. */
const MADE_FOLDER = 'images'
const USUAL_WIDTHS = [480, 960, 1440]
const NO_PLAN: SourcePlan = { sources: [], renditions: [] }

/** The address of an image of the content folder. */
export const addressOfAsset = ({ file, base }: Pick<AssetFacts, 'file' | 'base'>): string => base + encodeURI(file)

/** Plans the sources of an image. Drawings fit every size, and what moves would stand still: they have none. */
export function planSources(
  facts: AssetFacts,
  { widths = USUAL_WIDTHS, kinds = ['webp'], quality }: SourceOptions,
): SourcePlan {
  const { file, base, width, digest } = facts
  if (width === undefined || facts.kind === 'svg' || facts.isAnimated) return NO_PLAN
  const narrower = widths.filter((one) => one < width)
  const all = [...new Set(narrower.length < widths.length ? [...narrower, width] : narrower)].sort((a, b) => a - b)
  const name = file.slice(file.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '')
  const stem = `${MADE_FOLDER}/${name.replace(/[^\w-]+/g, '-').slice(0, 40)}`
  const ending = `${quality === undefined ? '' : `q${quality}-`}${digest.slice(0, 12)}`
  const plans = kinds.map((kind) => {
    const renditions = all.map(
      (one): Rendition => ({ file: `${stem}-${one}-${ending}.${kind}`, from: file, width: one, kind, quality }),
    )
    const srcset = renditions.map((one) => `${base}${one.file} ${one.width}w`).join(', ')
    return { source: { type: `image/${kind}`, srcset }, renditions }
  })
  return { sources: plans.map(({ source }) => source), renditions: plans.flatMap(({ renditions }) => renditions) }
}

const NAMES = ['widths', 'kinds', 'quality']
/** The widest that WebP can be. */
const WIDEST = 16_383

/** Checks the setting `sources`. */
export function checkSources(
  reader: SettingsReader,
  path: readonly SettingStep[],
  value: unknown,
  more: readonly string[] = [],
): SourceOptions | undefined {
  if (value === undefined) return undefined
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return reader.invalid(path, value, 'an object such as { widths: [480, 960] }')
  const { widths, kinds, quality } = value as Readonly<Record<string, unknown>>
  const before = reader.problems.length
  reader.known(path, value, [...NAMES, ...more])
  const isCount = (most: number) => (one: unknown) =>
    Number.isSafeInteger(one) && (one as number) >= 1 && (one as number) <= most
  const items = (name: string, all: unknown, expected: string, fits: (one: unknown) => boolean): void => {
    if (all === undefined) return
    if (!Array.isArray(all) || all.length === 0) reader.invalid([...path, name], all, `a list, each ${expected}`)
    else for (const [at, one] of all.entries()) if (!fits(one)) reader.invalid([...path, name, at], one, expected)
  }
  items('widths', widths, `a width in pixels, from 1 to ${WIDEST}`, isCount(WIDEST))
  items('kinds', kinds, MADE_KINDS.map((kind) => `'${kind}'`).join(' or '), (one) =>
    MADE_KINDS.some((kind) => kind === one),
  )
  if (quality !== undefined && !isCount(100)(quality))
    reader.invalid([...path, 'quality'], quality, 'a whole number from 1 to 100')
  return reader.problems.length === before ? (value as SourceOptions) : undefined
}
