import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type Host, HostError, type ImageMaker } from '../host/host.ts'
import type { Rendition } from '../schema/image-sources.ts'
import { openKeptImages } from './cache/kept-images.ts'
import type { Progress } from './check-context.ts'
import type { Publisher } from './publish.ts'

/** The surroundings of the making of images. */
export interface ImageContext {
  readonly host: Host
  /** The content folder. */
  readonly content: string
  readonly publisher: Publisher
  /** True where images are kept from process to process, beside those of the output. */
  readonly isKept: boolean
  onProgress?: ((progress: Progress) => void) | undefined
}

/** The number of images that are made at once. */
const LANES = 4

/** Makes the images that are not there yet, and writes them into the output. */
export async function writeImages(
  renditions: readonly Rendition[],
  context: ImageContext,
): Promise<readonly Diagnostic[]> {
  const { host, content, publisher, isKept, onProgress } = context
  const { images } = host
  if (!images || renditions.length === 0) return []
  const kept = isKept ? openKeptImages(host) : undefined
  const wanted = renditions.filter(({ file }) => !publisher.keepWhole(file))
  const failures = new Map<string, Diagnostic>()
  let done = 0
  const write = async (rendition: Rendition): Promise<void> => {
    const name = nameOf(rendition)
    const known = kept?.find(name)
    const bytes = known ?? (await makeImage(rendition, { host, images, content, failures }))
    if (bytes) publisher.write(rendition.file, bytes)
    if (bytes && !known) kept?.keep(name, bytes)
    onProgress?.({ done: ++done, total: wanted.length, noun: 'images' })
  }
  const next = wanted.values()
  const work = async (): Promise<void> => {
    for (const rendition of next) await write(rendition)
  }
  await Promise.all(Array.from({ length: LANES }, work))
  await kept?.end(new Set(renditions.map(nameOf)))
  return [...failures.values()]
}

const nameOf = ({ file }: Rendition): string => file.slice(file.lastIndexOf('/') + 1)

/** Makes an image; undefined where that is not possible, which is said once for each image it is made of. */
async function makeImage(
  rendition: Rendition,
  {
    host,
    images,
    content,
    failures,
  }: Pick<ImageContext, 'host' | 'content'> & {
    readonly images: ImageMaker
    readonly failures: Map<string, Diagnostic>
  },
): Promise<Uint8Array | undefined> {
  const { from, ...wanted } = rendition
  const file = `${content}/${from}`
  if (failures.has(file)) return undefined
  try {
    return await images.make(host.read(file), wanted)
  } catch (error) {
    if (!(error instanceof HostError)) throw error
    const place = { file, span: [0, 0] as const }
    failures.set(file, createDiagnostic('image-unreadable', place, { path: from, reason: error.message }))
    return undefined
  }
}
