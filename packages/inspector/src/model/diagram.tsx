import { useState } from 'react'
import type { DiagramEdge } from 'zinc-pantry/inspect'
import { addressOf, followLink } from '../site/address.ts'
import { useCall } from '../site/use-call.ts'

const WORDS = { one: 'leads to one', optional: 'to one or none', many: 'to any number' } as const
const COUNTS = { one: '1', optional: '0–1', many: '0–n' } as const

/** The end of a line, in the notation of entity–relationship diagrams. */
const End = ({ id, shape }: { readonly id: string; readonly shape: string }) => (
  <marker
    id={id}
    viewBox="0 0 12 12"
    refX="12"
    refY="6"
    markerWidth="12"
    markerHeight="12"
    markerUnits="userSpaceOnUse"
    orient="auto"
  >
    <path d={shape} fill="none" stroke="context-stroke" />
  </marker>
)

/** Collections and the references between them. One that is pointed at shows its own. */
export function Diagram() {
  const { answer } = useCall('diagram', {})
  const [near, setNear] = useState<string>()
  if (!answer) return <div className="diagram" />
  const { width, height, nodes, edges } = answer
  const isNear = ({ from, to }: DiagramEdge): boolean => near === undefined || from === near || to === near
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keyboard.
    <figure className="diagram" tabIndex={0}>
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing has no element for a group of links. */}
      <svg
        viewBox={`-8 -8 ${width + 16} ${height + 16}`}
        width={width + 16}
        height={height + 16}
        role="group"
        aria-label="Collections and references"
      >
        <defs>
          <End id="one" shape="M4 2 V10 M8 2 V10" />
          <End id="optional" shape="M8 2 V10 M5 6 A2.5 2.5 0 1 0 0 6 A2.5 2.5 0 1 0 5 6" />
          <End id="many" shape="M12 1 L4 6 L12 11" />
        </defs>
        {edges.map((edge) => {
          const { path, points, many, to } = edge
          return (
            <g key={`${path} ${to}`} className={isNear(edge) ? 'edge' : 'edge far'}>
              <path
                d={points.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${x} ${y}`).join(' ')}
                markerEnd={`url(#${many})`}
              >
                <title>{`${path} → ${to} (${COUNTS[many]})`}</title>
              </path>
            </g>
          )
        })}
        {nodes.map(({ name, x, y, width: wide, height: high }) => (
          <a
            key={name}
            href={addressOf('model', { name })}
            onClick={followLink}
            onMouseEnter={() => setNear(name)}
            onMouseLeave={() => setNear(undefined)}
            onFocus={() => setNear(name)}
            onBlur={() => setNear(undefined)}
          >
            <rect x={x} y={y} width={wide} height={high} rx={7} />
            <text x={x + wide / 2} y={y + high / 2 + 4}>
              {name}
            </text>
          </a>
        ))}
      </svg>
      <figcaption>
        {near === undefined ? (
          <Legend />
        ) : (
          <>
            <strong>{near}</strong>
            {edges.filter(isNear).map(({ path, to, many }) => (
              <span key={`${path} ${to}`}>
                {path} → {to} <span className="quiet">{COUNTS[many]}</span>
              </span>
            ))}
          </>
        )}
      </figcaption>
    </figure>
  )
}

/** The ends of lines, and what they say. */
const Legend = () => (
  <>
    {(['one', 'optional', 'many'] as const).map((many) => (
      <span key={many}>
        <svg width="46" height="12" aria-hidden="true">
          <path d="M0 6 H46" markerEnd={`url(#${many})`} />
        </svg>
        {WORDS[many]}
      </span>
    ))}
  </>
)
