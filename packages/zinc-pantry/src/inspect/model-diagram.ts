import type { ElkExtendedEdge, ElkNode } from 'elkjs/lib/elk-api.js'
import type { FieldModel, ModelView } from '../engine/describe/describe-fields.ts'

/** A collection or a reference of the diagram of a model, at its place in pixels. */
export interface DiagramNode {
  readonly name: string
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** A reference between two collections, as a line through points. */
export interface DiagramEdge {
  readonly from: string
  readonly to: string
  /** The dotted path of the reference. */
  readonly path: string
  /** How many entries one may refer to. */
  readonly many: 'one' | 'optional' | 'many'
  readonly points: readonly { readonly x: number; readonly y: number }[]
}

/** The diagram of a model. */
export interface ModelDiagram {
  readonly width: number
  readonly height: number
  readonly nodes: readonly DiagramNode[]
  readonly edges: readonly DiagramEdge[]
}

const NODE_HEIGHT = 44
const LETTER = 8.2
const OPTIONS = {
  'elk.algorithm': 'layered',
  'elk.direction': 'RIGHT',
  'elk.layered.spacing.nodeNodeBetweenLayers': '70',
  'elk.spacing.nodeNode': '26',
  'elk.spacing.edgeNode': '18',
  'elk.edgeRouting': 'ORTHOGONAL',
  'elk.layered.nodePlacement.strategy': 'NETWORK_SIMPLEX',
}

/** Lays the collections of a model out with the references between them. */
export async function drawModel({ collections }: ModelView): Promise<ModelDiagram> {
  const { default: Elk } = await import('elkjs')
  const references = collections.flatMap(({ name, fields }) =>
    fields.flatMap((field) => referencesOf(field, name, name)),
  )
  const children: ElkNode[] = collections.map(({ name }) => {
    return { id: name, width: Math.max(110, name.length * LETTER + 58), height: NODE_HEIGHT }
  })
  const edges: ElkExtendedEdge[] = references.map(({ from, to }, at) => ({
    id: String(at),
    sources: [from],
    targets: [to],
  }))
  const graph: ElkNode = { id: 'model', layoutOptions: OPTIONS, children, edges }
  const laid: ElkNode = await new Elk.default().layout(graph)
  return {
    width: laid.width ?? 0,
    height: laid.height ?? 0,
    nodes: (laid.children ?? []).map(({ id, x = 0, y = 0, width = 0, height = 0 }) => ({
      name: id,
      x,
      y,
      width,
      height,
    })),
    edges: (laid.edges ?? []).flatMap((edge) => {
      const reference = references[Number(edge.id)]
      const points = (edge.sections ?? []).flatMap(({ startPoint, bendPoints = [], endPoint }) => [
        startPoint,
        ...bendPoints,
        endPoint,
      ])
      return reference ? [{ ...reference, points }] : []
    }),
  }
}

type Reference = Omit<DiagramEdge, 'points'>

/** The references of a field and of those in it. */
function referencesOf(field: FieldModel, from: string, above: string, isMany = false): readonly Reference[] {
  const path = field.name === '' ? above : `${above}.${field.name}`
  const own = field.leadsTo && field.leadsTo.through === undefined ? field.leadsTo.targets : []
  const many = isMany ? 'many' : field.need === 'required' ? 'one' : 'optional'
  const inside = [
    ...(field.item ? [field.item] : []),
    ...(field.fields ?? []),
    ...(field.variants ?? []).flatMap((one) => one.fields),
    ...(field.alternatives ?? []),
  ]
  return [
    ...own.map((to): Reference => ({ from, to, path, many })),
    ...inside.flatMap((one) => referencesOf(one, from, path, isMany || field.item === one)),
  ]
}
