/** The first chunks of an image of PNG, of which one of these says whether it moves. */
const PNG_HEAD = 33
/** The longest part of a PNG in which its chunk of animation is looked for. */
const PNG_LOOK = 4096

/** True for an image that moves, by its bytes. A GIF is taken for one. */
export function isAnimated(bytes: Uint8Array, kind: string | undefined): boolean {
  if (kind === 'gif') return true
  // The flags of the extended header of WebP, of which the second bit is animation.
  if (kind === 'webp') return ascii(bytes, 12, 16) === 'VP8X' && ((bytes[20] ?? 0) & 2) !== 0
  // Animated PNG has its chunk in front of the first with pixels.
  return kind === 'png' && ascii(bytes, PNG_HEAD, PNG_LOOK).split('IDAT', 1)[0]?.includes('acTL') === true
}

const ascii = (bytes: Uint8Array, start: number, end: number): string =>
  new TextDecoder('latin1').decode(bytes.subarray(start, end))
