import { type Html, html } from './html.ts'

/** A place on the map. */
export interface Place {
  readonly name: string
  readonly address: string
  readonly position: { readonly latitude: number; readonly longitude: number }
}

const MARGIN = 46
/** About so wide is a character of a name. */
const CHARACTER = 8.2
const LINE = 16

/** A part of the drawing that is taken. */
interface Box {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

const overlap = (one: Box, other: Box): boolean =>
  one.left < other.right && other.left < one.right && one.top < other.bottom && other.top < one.bottom

/** How large a map is drawn, and whether its places are joined in their order. */
export interface MapStyle {
  readonly width: number
  readonly height: number
  readonly isWay: boolean
}

const SMALL: MapStyle = { width: 480, height: 280, isWay: true }

/** A small map of places, drawn from their positions; no map service is asked. */
export function drawMap(places: readonly Place[], label: string, style: MapStyle = SMALL): Html {
  const { width, height, isWay } = style
  const distinct = [...new Map(places.map((place) => [place.address, place])).values()]
  const [x, y] = [
    scale(
      places.map(({ position }) => position.longitude),
      [MARGIN, width - MARGIN],
    ),
    scale(
      places.map(({ position }) => position.latitude),
      [height - MARGIN, MARGIN],
    ),
  ]
  const at = ({ position }: Place): [number, number] => [x(position.longitude), y(position.latitude)]
  const taken: Box[] = distinct.map((place) => boxAround(...at(place), 9))
  const dots = distinct.map((place) => {
    const [cx, cy] = at(place)
    const { anchor, tx, ty } = placeLabel(place.name, [cx, cy], { taken, width })
    return html`<a href="${place.address}"><circle cx="${cx}" cy="${cy}" r="7"/><text x="${tx}" y="${ty}" text-anchor="${anchor}">${place.name}</text></a>`
  })
  const contours = [0, 1, 2, 3].map((line) => {
    const low = Math.round(height * (0.2 + line * 0.2))
    return html`<path class="contour" d="M0 ${low}C${width / 4} ${low - 50 + line * 9} ${width / 2} ${low + 40 - line * 6} ${width} ${low - 24}"/>`
  })
  const way = isWay && html`<polyline points="${places.map((place) => at(place).join()).join(' ')}"/>`
  return html`<svg class="map" viewBox="0 0 ${width} ${height}" role="group" aria-label="${label}">${contours}${way}${dots}</svg>`
}

/** A scale from values to a stretch of the drawing; what lies close together is not torn apart. */
function scale(values: readonly number[], [start, end]: readonly [number, number]): (value: number) => number {
  const least = 0.02
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const middle = (low + high) / 2
  const span = Math.max(high - low, least)
  return (value) => Math.round(start + ((value - middle) / span + 0.5) * (end - start))
}

const boxAround = (x: number, y: number, radius: number): Box => ({
  left: x - radius,
  top: y - radius,
  right: x + radius,
  bottom: y + radius,
})

/** Finds a place for a name beside its dot: the first of four that nothing else has taken. */
function placeLabel(
  name: string,
  [x, y]: readonly [number, number],
  { taken, width }: { readonly taken: Box[]; readonly width: number },
): { anchor: 'start' | 'middle' | 'end'; tx: number; ty: number } {
  const length = name.length * CHARACTER
  const options = [
    { anchor: 'middle', tx: x, ty: y - 13, left: x - length / 2 },
    { anchor: 'start', tx: x + 13, ty: y + 5, left: x + 13 },
    { anchor: 'end', tx: x - 13, ty: y + 5, left: x - 13 - length },
    { anchor: 'middle', tx: x, ty: y + 24, left: x - length / 2 },
  ] as const
  const boxOf = ({ left, ty }: (typeof options)[number]): Box => ({
    left,
    top: ty - LINE + 3,
    right: left + length,
    bottom: ty + 3,
  })
  const fits = (box: Box): boolean => box.left >= 0 && box.right <= width && !taken.some((other) => overlap(box, other))
  const found = options.find((option) => fits(boxOf(option))) ?? options[0]
  taken.push(boxOf(found))
  return found
}
