import type { FieldModel, ModelView, RecordProblem } from 'zinc-pantry/inspect'

/** A step of a path in a record. */
export type Step = string | number

/** Data as a record has it. */
export type Group = Readonly<Record<string, unknown>>

export const isGroup = (value: unknown): value is Group =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** A copy of a group with another value under a key; an undefined one goes. */
export function withKey(group: Group, key: string, value: unknown): Group {
  if (value === undefined) return Object.fromEntries(Object.entries(group).filter(([own]) => own !== key))
  return { ...group, [key]: value }
}

/** True for values that are written alike. */
export const isSame = (one: unknown, other: unknown): boolean =>
  JSON.stringify(sorted(one)) === JSON.stringify(sorted(other))

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (!isGroup(value)) return value ?? null
  const keys = Object.keys(value).filter((key) => value[key] !== undefined)
  return Object.fromEntries(keys.sort().map((key) => [key, sorted(value[key])]))
}

/** The problems of a value itself, and those within it. */
export interface FieldProblems {
  readonly own: readonly RecordProblem[]
  readonly inside: readonly RecordProblem[]
}

/** Takes the problems of a key or an item out of those of what holds it. */
export function problemsAt(problems: readonly RecordProblem[], path: readonly Step[]): FieldProblems {
  const within = problems.filter((one) => path.every((step, at) => one.path?.[at] === step))
  return {
    own: within.filter((one) => one.path?.length === path.length),
    inside: within.filter((one) => (one.path?.length ?? 0) > path.length),
  }
}

/** What a value is where nothing is written yet; undefined where it is left out. */
export function emptyValue(field: FieldModel): unknown {
  switch (field.kind) {
    case 'group':
      return {}
    case 'map':
      return {}
    case 'list':
      return []
    case 'block':
      return field.blocks?.names.length === 1 ? { [field.blocks.key]: field.blocks.names[0] } : {}
    case 'flag':
      return false
    case 'either':
      return field.alternatives?.[0] ? emptyValue(field.alternatives[0]) : ''
    default:
      return ''
  }
}

/** The fields of a set of fields by the shape that a record has: those of the variant that it names stand beside the others. */
export function fieldsOfShape(fields: readonly FieldModel[], record: Group): readonly FieldModel[] {
  return fields.flatMap((field) => {
    if (!field.variants) return [field]
    const shape = field.variants.find(({ name }) => name === record[field.key])
    return [field, ...(shape?.fields ?? [])]
  })
}

/** The fields of a block by its name. */
export const blockFields = (model: ModelView, name: unknown): readonly FieldModel[] =>
  model.blocks.find((one) => one.name === name)?.fields ?? []
