import { HostError, type ImageMaker } from './host.ts'

/** The package that makes images; sites that ask for that install it. */
const PACKAGE = 'sharp'
/** How hard AVIF is tried to be made small, of 9: more takes several times as long for little. */
const AVIF_EFFORT = 2

/** Makes images by a package that is loaded when the first is made. */
export const nodeImages: ImageMaker = {
  missing() {
    try {
      import.meta.resolve(PACKAGE)
      return undefined
    } catch {
      return PACKAGE
    }
  },
  async make(image, { width, kind, quality }) {
    const { default: sharp } = await import('sharp')
    try {
      const resized = sharp(image).autoOrient().resize({ width })
      // There is no transparency in JPEG.
      const shown = kind === 'jpeg' ? resized.flatten({ background: '#ffffff' }) : resized
      const options = quality === undefined || kind === 'png' ? {} : { quality }
      return await shown.toFormat(kind, kind === 'avif' ? { ...options, effort: AVIF_EFFORT } : options).toBuffer()
    } catch (error) {
      throw new HostError(error instanceof Error ? error.message : String(error))
    }
  },
}
