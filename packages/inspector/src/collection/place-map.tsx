import type { RowsQuestion } from 'zinc-pantry/inspect'
import { Notice } from '../parts/notice.tsx'
import { plural } from '../parts/words.ts'
import { addressOf, followLink } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'
import { QuestionProblem } from './question-problem.tsx'

const MOST = 2_000
const WIDTH = 900
const EDGE = 46

interface Place {
  readonly id: string
  readonly name: string
  readonly latitude: number
  readonly longitude: number
}

/** The entries of an answer at their positions, on a plain grid: nothing is loaded from elsewhere for it. */
export function PlaceMap({
  question,
  path: [latitude, longitude],
  label,
}: {
  readonly question: RowsQuestion
  /** The paths of the two numbers of a position. */
  readonly path: readonly [latitude: string, longitude: string]
  readonly label: string
}) {
  const fields = `id,${label},${latitude},${longitude}`
  const { answer } = useCall('rows', { ...question, fields, limit: MOST }, { keepsLast: true })
  if (!answer) return null
  if ('problem' in answer) return <QuestionProblem problem={answer.problem} />
  const places = answer.rows.flatMap(([id, name, north, east]): Place[] =>
    typeof north === 'number' && typeof east === 'number'
      ? [{ id: String(id), name: String(name ?? id), latitude: north, longitude: east }]
      : [],
  )
  if (places.length === 0) return <Notice>None of them has a position.</Notice>
  const { height, xOf, yOf, lines } = project(places)
  return (
    <figure className="map">
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing has no element for a group of links. */}
      <svg viewBox={`0 0 ${WIDTH} ${height}`} role="group" aria-label={`Positions of ${question.collection}`}>
        {lines.map(({ at, isNorth }) => (
          <g key={`${isNorth} ${at}`} className="grid">
            <path d={isNorth ? `M0 ${yOf(at)} H${WIDTH}` : `M${xOf(at)} 0 V${height}`} />
            <text x={isNorth ? 4 : xOf(at) + 4} y={isNorth ? yOf(at) - 4 : height - 6}>
              {at.toFixed(2)}°
            </text>
          </g>
        ))}
        {places.map((place) => (
          <a
            key={place.id}
            href={addressOf('entry', { name: `${question.collection}/${place.id}`, locale: question.locale })}
            onClick={followLink}
          >
            <circle cx={xOf(place.longitude)} cy={yOf(place.latitude)} r={6} />
            <text x={xOf(place.longitude) + 10} y={yOf(place.latitude) + 4}>
              {place.name}
            </text>
          </a>
        ))}
      </svg>
      <figcaption className="quiet">
        {plural(places.length, 'entry', 'entries')} with a position, by {latitude} and {longitude}
      </figcaption>
    </figure>
  )
}

/** Lays positions out so that the middle of them is true to scale. */
function project(places: readonly Place[]) {
  const bounds = (of: (one: Place) => number, least: number): readonly [number, number] => {
    const all = places.map(of)
    const low = all.reduce((least, one) => Math.min(least, one), Number.POSITIVE_INFINITY)
    const high = all.reduce((most, one) => Math.max(most, one), Number.NEGATIVE_INFINITY)
    const more = Math.max(0, least - (high - low)) / 2
    return [low - more, high + more]
  }
  const [west, east] = bounds(({ longitude }) => longitude, 0.02)
  const [south, north] = bounds(({ latitude }) => latitude, 0.02)
  const scale = (WIDTH - 2 * EDGE - 90) / (east - west)
  const narrow = Math.cos((((south + north) / 2) * Math.PI) / 180) || 1
  const height = Math.min(1_200, Math.max(240, ((north - south) * scale) / narrow + 2 * EDGE))
  const tall = (height - 2 * EDGE) / (north - south)
  const linesOf = (low: number, high: number, isNorth: boolean) => {
    const step = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 45].find((one) => (high - low) / one <= 8) ?? 90
    const from = Math.ceil(low / step)
    return Array.from({ length: Math.max(0, Math.floor(high / step) - from + 1) }, (_, at) => ({
      at: (from + at) * step,
      isNorth,
    }))
  }
  return {
    height,
    xOf: (longitude: number): number => EDGE + (longitude - west) * scale,
    yOf: (latitude: number): number => height - EDGE - (latitude - south) * tall,
    lines: [...linesOf(south, north, true), ...linesOf(west, east, false)],
  }
}
