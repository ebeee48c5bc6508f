import { escapeHtml, Html, html } from './html.ts'

/** A place on the map. */
export interface Place {
  readonly name: string
  readonly url: string
  readonly position: { readonly latitude: number; readonly longitude: number }
}

const WIDTH = 480
const HEIGHT = 280
const MARGIN = 46

/** A small map of places, joined in their order where they are a way; drawn from their positions, no map service is asked. */
export function drawMap(places: readonly Place[], label: string, isWay = true): Html {
  const xs = places.map(({ position }) => position.longitude)
  const ys = places.map(({ position }) => position.latitude)
  const span = (values: readonly number[]): [number, number] => {
    const [low, high] = [Math.min(...values), Math.max(...values)]
    const least = 0.02
    return high - low < least ? [(low + high - least) / 2, (low + high + least) / 2] : [low, high]
  }
  const [west, east] = span(xs)
  const [south, north] = span(ys)
  const x = (longitude: number): number =>
    Math.round(MARGIN + ((longitude - west) / (east - west)) * (WIDTH - 2 * MARGIN))
  const y = (latitude: number): number =>
    Math.round(HEIGHT - MARGIN - ((latitude - south) / (north - south)) * (HEIGHT - 2 * MARGIN))
  const points = places.map(({ position }) => `${x(position.longitude)},${y(position.latitude)}`)
  const contours = [0, 1, 2, 3].map((at) => {
    const low = 60 + at * 55
    return `<path class="contour" d="M0 ${low}C${WIDTH / 4} ${low - 50 + at * 9} ${WIDTH / 2} ${low + 40 - at * 6} ${WIDTH} ${low - 24}"/>`
  })
  const dots = [...new Map(places.map((place) => [place.url, place])).values()].map(({ name, url, position }) => {
    const [cx, cy] = [x(position.longitude), y(position.latitude)]
    const anchor = cx > WIDTH * 0.66 ? 'end' : cx < WIDTH * 0.33 ? 'start' : 'middle'
    return `<a href="${escapeHtml(url)}"><circle cx="${cx}" cy="${cy}" r="7"/><text x="${cx}" y="${cy - 13}" text-anchor="${anchor}">${escapeHtml(name)}</text></a>`
  })
  return html`<svg class="map" viewBox="0 0 ${WIDTH} ${HEIGHT}" role="group" aria-label="${label}">${new Html(contours.join(''))}${isWay && html`<polyline points="${points.join(' ')}"/>`}${new Html(dots.join(''))}</svg>`
}
