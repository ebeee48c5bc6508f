import type { PathSegment } from '../read/document.ts'

/** Gives one path for all that are the same. */
export type PathTable = (path: readonly PathSegment[]) => readonly PathSegment[]

/** A path, and those that go on from it. */
interface Node {
  readonly path: readonly PathSegment[]
  readonly below: Map<PathSegment, Node>
}

/** Makes a table of paths: the entries of a collection are many, and the paths in them few. */
export function createPathTable(): PathTable {
  const root: Node = { path: [], below: new Map() }
  return (path) => {
    let node = root
    for (const step of path) {
      const next = node.below.get(step) ?? { path: [...node.path, step], below: new Map() }
      node.below.set(step, next)
      node = next
    }
    return node.path
  }
}
