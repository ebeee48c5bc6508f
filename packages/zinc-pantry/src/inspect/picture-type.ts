const TYPES: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  avif: 'image/avif',
  svg: 'image/svg+xml',
}

/** The media type of a picture by its name; undefined for other files. */
export const pictureType = (file: string): string | undefined =>
  TYPES[file.slice(file.lastIndexOf('.') + 1).toLowerCase()]
