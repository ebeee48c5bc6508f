import type { SizedImageValue } from 'zinc-pantry/query'
import { type Html, html } from './html.ts'

/** The address of a picture that a field names, below the `assetBase` of the configuration. */
export const addressOf = (file: string): string => `/files/${file}`

/** A picture in all its sizes; `sizes` says how wide it is on the page, as the attribute does. */
export const pictureOf = ({ src, sources, alt, width, height }: SizedImageValue, sizes: string): Html =>
  html`<picture>${sources.map(({ type, srcset }) => html`<source type="${type}" srcset="${srcset}" sizes="${sizes}">`)}<img src="${src}" alt="${alt}" width="${width}" height="${height}"></picture>`
