import { type BlockUse, isOpen, locateProperty } from '../body/body-summary.ts'
import type { Span } from '../diagnostics/diagnostic.ts'
import { suggestNearest } from '../diagnostics/suggest.ts'
import type { PathSegment, PlacePart } from '../read/document.ts'
import { type CheckRun, INVALID } from '../schema/check-run.ts'
import type { EntryChecks } from '../schema/compile-schema.ts'
import type { Fields } from '../schema/field.ts'
import type { EntryBody } from './entry.ts'
import { typeCells } from './type-cells.ts'
import type { WrittenPaths } from './written-paths.ts'

/** Stands at the front of paths into a body; no field has such a name. */
const BODY = 'body'

type Properties = Readonly<Record<string, unknown>>

/** Attributes are texts as they are written. */
const ATTRIBUTES = { listSeparator: ';', trim: false, blocks: new Map() } as const

/** Checks the blocks that are used in a body. Gives the typed properties of each. */
export function validateBlocks(body: EntryBody | undefined, checks: EntryChecks, run: CheckRun): Properties[] {
  return (body?.summary.uses ?? []).map((use, position) => {
    run.path.push(BODY, position)
    const properties = validateUse(use, checks, run)
    run.path.length -= 2
    return properties
  })
}

function validateUse(use: BlockUse, checks: EntryChecks, run: CheckRun): Properties {
  const { block, name, open } = use
  const known = checks.blocks
  const entry = block === undefined ? undefined : known.get(block)
  if (!entry && checks.takesAny) return use.values
  if (!entry) {
    const blocks = [...known.keys()]
    run.report('block-unknown', { name, blocks, suggestion: suggestNearest(name, blocks) }, 'key')
    return {}
  }
  const values = use.hasCells ? typeCells(use.values, entry.fields, ATTRIBUTES) : use.values
  const depth = run.path.length
  // What code works out is left to TypeScript.
  const checked = entry.check(values, {
    ...run,
    report(code, parameters, part) {
      if (!isOpen(use, String(run.path[depth]))) run.report(code, parameters, part)
    },
  })
  if (checked !== INVALID) return checked as Properties
  return open === 'all' || open.length > 0 ? { ...use.values, ...defaultsOf(entry.fields, use) } : {}
}

/**
 * The values of properties that are not written, where not all of the others are known. Those that are written out stay
 * as they are, so that what is private in them is found.
 */
function defaultsOf(fields: Fields, use: BlockUse): Properties {
  const missing = Object.entries(fields).filter(([name]) => !Object.hasOwn(use.values, name) && !isOpen(use, name))
  return Object.fromEntries(
    missing.flatMap(([name, { options }]) => {
      const value = options.default ?? (options.optional ? null : undefined)
      return value === undefined ? [] : [[name, value]]
    }),
  )
}

/** The place of a part of a block in a body. */
export function locateInBody(
  body: EntryBody | undefined,
  path: readonly PathSegment[],
  { part, written }: { readonly part: PlacePart; readonly written: Pick<WrittenPaths, 'block'> },
): Span | undefined {
  const [first, position, ...rest] = path
  if (!body || first !== BODY || typeof position !== 'number') return undefined
  const use = body.summary.uses[position]
  const [name = rest[0]] = (use?.block !== undefined && written.block(use.block)?.(rest, use.values)) || []
  const [start, end] = use ? locateProperty(use, name, part === 'value' ? 'value' : 'key') : [0, 0]
  return [start + body.startOffset, end + body.startOffset]
}
