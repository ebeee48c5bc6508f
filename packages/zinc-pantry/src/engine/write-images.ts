import { createDiagnostic, type Diagnostic } from '../diagnostics/diagnostic.ts'
import { type Host, HostError, type ImageMaker } from '../host/host.ts'
import type { Rendition } from '../schema/image-sources.ts'
import { CACHE_FOLDER } from './cache/site-memory.ts'
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

/** The folder of images that are kept. Their names say of what they are made, and how. */
const KEPT_FOLDER = `${CACHE_FOLDER}/images`
/** The number of images that are made at once. */
const LANES = 4
/** The number of kept images that no build needs and that stay all the same. */
const MOST_UNUSED = 64

/** Makes the images that are not there yet, and writes them into the output. */
export async function writeImages(
  renditions: readonly Rendition[],
  context: ImageContext,
): Promise<readonly Diagnostic[]> {
  const { host, content, publisher, isKept, onProgress } = context
  const { images } = host
  if (!images || renditions.length === 0) return []
  const kept = new Set(isKept ? host.list(KEPT_FOLDER)?.files : [])
  const wanted = renditions.filter(({ file }) => !publisher.keepWhole(file))
  const failures = new Map<string, Diagnostic>()
  const writing = host.startWriting()
  let done = 0
  const write = async (rendition: Rendition): Promise<void> => {
    const name = rendition.file.slice(rendition.file.lastIndexOf('/') + 1)
    const known = kept.has(name) ? readBytes(host, `${KEPT_FOLDER}/${name}`) : undefined
    const bytes = known ?? (await makeImage(rendition, { host, images, content, failures }))
    if (bytes) publisher.write(rendition.file, bytes)
    if (bytes && !known && isKept) writing.write(`${KEPT_FOLDER}/${name}`, bytes)
    onProgress?.({ done: ++done, total: wanted.length, noun: 'images' })
  }
  const next = wanted.values()
  const work = async (): Promise<void> => {
    for (const rendition of next) await write(rendition)
  }
  await Promise.all(Array.from({ length: LANES }, work))
  // A folder that cannot be kept in is made again the next time.
  await writing.settled().catch(() => undefined)
  if (isKept) forgetUnused(host, kept, renditions)
  return [...failures.values()]
}

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

function readBytes(host: Host, file: string): Uint8Array | undefined {
  try {
    return host.read(file)
  } catch (error) {
    if (error instanceof HostError) return undefined
    throw error
  }
}

/** Removes kept images that are not needed, once they are more than those that are: drafts, too, take theirs in turn. */
function forgetUnused(host: Host, kept: ReadonlySet<string>, renditions: readonly Rendition[]): void {
  const used = new Set(renditions.map(({ file }) => file.slice(file.lastIndexOf('/') + 1)))
  const unused = [...kept].filter((name) => !used.has(name))
  if (unused.length > used.size + MOST_UNUSED) for (const name of unused) host.remove(`${KEPT_FOLDER}/${name}`)
}
